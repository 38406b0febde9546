import { useQuery } from "@tanstack/react-query";
import { get } from "../api/http";
import type { DrapeReport, FittingRow } from "../api/types";
import { useCompared } from "../check/CompareStand";
import { type CompareMode, checkDesk, useCheck } from "../check/store";
import { useDesk } from "../desk/store";
import { useDrape } from "../stand/socket";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Slider } from "../ui/Slider";
import { format, formatSigned, type Unit } from "../ui/units";
import { Card } from "./Card";
import type { DocketProps } from "./props";

const MODES: [CompareMode, string][] = [
  ["beside", "beside each other"],
  ["over", "over each other"],
  ["difference", "the difference"],
];

/** Which fittings are compared, how, and their measures in one table. */
export function CompareCards({ state }: DocketProps) {
  const kept = useDrape((s) => s.kept);
  const fittings = useQuery({ queryKey: ["fittings", state.id, kept], queryFn: () => get<FittingRow[]>(`/api/costumes/${state.id}/fittings`), placeholderData: (old) => old });
  const compared = useCheck((s) => s.compared);
  const mode = useCheck((s) => s.mode);
  const reference = useCheck((s) => s.reference);
  return (
    <>
      <Card title="Fittings">
        {(fittings.data?.length ?? 0) < 2 && <p className="mb-1 text-ink-soft">Keep two fittings or more while you drape, of other sizes, fabrics or cuts; here they lie beside each other.</p>}
        {fittings.data?.map((f) => (
          <label key={f.id} className="flex cursor-pointer items-center gap-2 py-1">
            <input type="checkbox" data-compare-fitting={f.id} checked={compared.includes(f.id)} onChange={() => checkDesk.toggle(f.id)} />
            <img src={`/api/fittings/${f.id}/picture`} alt="" className="h-10 w-[30px] rounded border border-edge object-cover" />
            <span className="min-w-0 flex-1 truncate">{f.name}</span>
            {compared[0] === f.id && compared.length > 1 && <span className="text-[11px] text-ink-soft">first</span>}
          </label>
        ))}
        <Choice label="Show" value={mode} options={MODES} onChange={(m) => useCheck.setState({ mode: m })} />
        <div className="mt-1 flex gap-2">
          <label className="inline-flex h-8 flex-1 cursor-pointer items-center justify-center rounded-md border border-line bg-card font-medium hover:bg-paper">
            {reference ? "Another picture" : "Compare with a picture"}
            <input
              type="file"
              accept="image/png,image/jpeg"
              className="sr-only"
              onChange={(e) => {
                const file = e.target.files?.[0];
                if (file) useCheck.setState({ reference: URL.createObjectURL(file) });
              }}
            />
          </label>
          {(compared.length > 0 || reference) && <Button onClick={checkDesk.forget}>Clear</Button>}
        </div>
        {reference && <Reference />}
      </Card>
      <Measures />
    </>
  );
}

/** Whether the picture lies beside the fittings or under them, seen as its camera saw. */
function Reference() {
  const { under, cover, lens } = useCheck();
  return (
    <div className="mt-2">
      <Choice label="The picture lies" value={under ? "under" : "beside"} options={PLACES} onChange={(v) => useCheck.setState({ under: v === "under" })} />
      {under && (
        <>
          <div className="mt-1 grid grid-cols-[84px_1fr] items-center gap-x-2 gap-y-1.5">
            <span className="text-ink-soft">Over it</span>
            <Slider label="How much of the fitting is seen over the picture" value={cover} low={0.1} high={1} step={0.05} onMove={(v) => useCheck.setState({ cover: v })} onDone={(v) => useCheck.setState({ cover: v })} />
            <span className="text-ink-soft">
              Lens <span className="figures">{lens.toFixed(0)}°</span>
            </span>
            <Slider label="Field of view" value={lens} low={8} high={70} step={1} onMove={(v) => useCheck.setState({ lens: v })} onDone={(v) => useCheck.setState({ lens: v })} />
          </div>
          <p className="mt-1 text-[12px] text-ink-soft">Turn and move the fitting until it stands as in the picture.</p>
        </>
      )}
    </div>
  );
}

const PLACES = [
  ["beside", "beside the fittings"],
  ["under", "under them"],
] as const;

/** One row of the table: a measure of each fitting. */
function rows(reports: DrapeReport[], unit: Unit): [string, string[]][] {
  const girths = [...new Set(reports.flatMap((r) => r.girths.map((g) => g.measure)))];
  const girth = (key: string): [string, string[]] => {
    const all = reports.map((r) => r.girths.find((g) => g.measure === key));
    return [`${all.find((g) => g)?.name.split(" or ")[0] ?? key}, ease`, all.map((g) => (g ? formatSigned(g.ease, unit).replace(` ${unit}`, "") : "–"))];
  };
  const hem = (read: (r: DrapeReport) => string) => reports.map((r) => (r.hems[0] ? read(r) : "–"));
  return [
    ["Body", reports.map((r) => r.body)],
    ["Triangle, mm", reports.map((r) => r.edge_mm.toFixed(0))],
    ...girths.map(girth),
    ["Hem over floor", hem((r) => format(r.hems[0]?.height ?? 0, unit, false))],
    ["Hem out of level", hem((r) => `${(r.hems[0]?.tilt ?? 0).toFixed(1)}°`)],
    ["Folds", hem((r) => String(r.hems[0]?.folds ?? 0))],
    ["Stretch, 99 of 100", reports.map((r) => `${(100 * r.strain.p99).toFixed(1)} %`)],
    ["Crossings", reports.map((r) => String(r.places.length))],
  ];
}

function Measures() {
  const unit = useDesk((s) => s.unit);
  const fittings = useCompared();
  if (fittings.length < 2) return null;
  return (
    <Card title={`Measures, ${unit}`}>
      <table className="w-full table-fixed text-[12px]" data-measures={fittings.length}>
        <thead>
          <tr>
            <th className="w-[34%]" />
            {fittings.map((f) => (
              <th key={f.id} className="truncate pl-1 text-right font-normal text-[11px] text-ink-soft" title={f.head.name}>
                {f.head.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows(
            fittings.map((f) => f.head.report),
            unit,
          ).map(([name, cells]) => (
            <tr key={name}>
              <th scope="row" className="py-0.5 text-left font-normal text-ink-soft">
                {name}
              </th>
              {cells.map((cell, k) => (
                <td key={`${name} ${fittings[k]?.id}`} className={`figures truncate pl-1 text-right ${k > 0 && cell !== cells[0] ? "font-semibold" : ""}`}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Card>
  );
}
