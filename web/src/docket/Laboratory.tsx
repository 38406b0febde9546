import { FlaskConical } from "lucide-react";
import { useState } from "react";
import { useSwatches } from "../api/costume";
import type { ClothAsked, CostumeState, JobRow, LabRow, LabSheet, Swatch } from "../api/types";
import { isAtWork, useJobbing, useJobs } from "../check/api";
import { LargeSheet } from "../commands/LargeSheet";
import { Button } from "../ui/Button";
import { linePath } from "../ui/linePath";
import { JobList } from "./JobList";

/** A cloth on the bench: of the book, or a fabric of the costume with values of its own. */
interface Cloth {
  key: string;
  name: string;
  colour: string;
  swatch: Swatch;
  own: ClothAsked["own"];
}

const asked = (c: Cloth): ClothAsked => ({ swatch: c.swatch.key, own: c.own });
const keyOf = (c: ClothAsked) => `${c.swatch} ${JSON.stringify(Object.entries(c.own).sort(([a], [b]) => a.localeCompare(b)))}`;

/** What is known of cloths from the jobs of the laboratory, newest first, and which one is on the bench. */
function readings(jobs: JobRow[]): { sheets: Map<string, LabSheet>; busy: string | null } {
  const sheets = new Map<string, LabSheet>();
  let busy: string | null = null;
  for (const { asked: of, results, state } of jobs) {
    if (of.kind !== "cloths") continue;
    results.forEach((part, k) => {
      const cloth = of.cloths[k];
      if (cloth && part.kind === "cloth" && !sheets.has(keyOf(cloth))) sheets.set(keyOf(cloth), part.sheet);
    });
    const next = of.cloths[results.length];
    if (next && state === "running") busy = keyOf(next);
  }
  return { sheets, busy };
}

const mean = (all: number[]) => all.reduce((a, b) => a + b, 0) / Math.max(1, all.length);
const range = (all: number[]) => [...new Set([Math.min(...all), Math.max(...all)].map((v) => v.toFixed(0)))].join("–");
/** Farther from the formula than this a reading is marked. */
const OFF = 0.1;

/** Tests in columns: as they are called, their unit, and their keys on a sheet. */
const COLUMNS: [string, string, string[]][] = [
  ["Bending length", "mm", ["bending-warp", "bending-weft"]],
  ["1 m sags", "mm", ["strip-warp", "strip-weft"]],
  ["on the bias", "mm", ["strip-bias"]],
  ["Shear frame", "N/m", ["shear"]],
  ["Slides at", "°", ["slope"]],
];

/** All cloths in the textile laboratory: what the simulated tests read, beside what their values and the book say. */
export function Laboratory({ state }: { state: CostumeState }) {
  return (
    <LargeSheet sheet="laboratory" title="Textile laboratory" icon={<FlaskConical size={17} />}>
      {() => <Bench state={state} />}
    </LargeSheet>
  );
}

function Bench({ state }: { state: CostumeState }) {
  const book = useSwatches();
  const jobs = (useJobs(state.id).data ?? []).filter((j) => j.asked.kind === "cloths");
  const { begin, cancel } = useJobbing(state.id);
  const [chosen, setChosen] = useState<string | null>(null);
  const { sheets, busy } = readings(jobs);
  const atWork = jobs.find(isAtWork);
  const swatches = book.data?.swatches ?? [];
  const own = state.costume.fabrics.flatMap((f): Cloth[] => {
    const swatch = swatches.find((s) => s.key === f.swatch);
    return swatch && Object.keys(f.own ?? {}).length > 0 ? [{ key: `fabric ${f.id}`, name: f.name, colour: f.colour, swatch, own: f.own ?? {} }] : [];
  });
  const worn = (s: Swatch) => state.costume.fabrics.find((f) => f.swatch === s.key)?.colour;
  const cloths: Cloth[] = [...own, ...swatches.map((s) => ({ key: s.key, name: s.name, colour: worn(s) ?? "#cfc8b8", swatch: s, own: {} }))];
  const sheetOf = (c: Cloth) => sheets.get(keyOf(asked(c)));
  const test = (which: Cloth[]) => void begin({ kind: "cloths", cloths: which.map(asked) });
  const isBusy = (c: Cloth) => busy === keyOf(asked(c));
  const left = cloths.filter((c) => !sheetOf(c));
  const shown = cloths.find((c) => c.key === chosen) ?? cloths.find((c) => sheetOf(c));
  return (
    <div className="flex min-h-0 flex-1 gap-5">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="min-h-0 flex-1 overflow-auto rounded-lg border border-edge" tabIndex={0} role="region" aria-label="Readings">
          <table className="w-full border-collapse text-[12px]">
            <thead className="sticky top-0 bg-sheet">
              <tr className="text-left align-bottom">
                <th className="px-2 py-1.5 font-semibold">Cloth</th>
                <th className="px-2 py-1.5 text-right font-semibold">
                  Drapes to <span className="block font-normal text-ink-soft">% · book</span>
                </th>
                <th className="px-2 py-1.5 text-right font-semibold">Folds</th>
                {COLUMNS.map(([name, unit]) => (
                  <th key={name} className="px-2 py-1.5 text-right font-semibold">
                    {name} <span className="block font-normal text-ink-soft">{unit}</span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {cloths.map((c) => (
                <ClothRow key={c.key} cloth={c} sheet={sheetOf(c)} chosen={shown?.key === c.key} busy={isBusy(c)} choose={() => setChosen(c.key)} />
              ))}
            </tbody>
          </table>
        </div>
        <div className="mt-3 flex items-center gap-2">
          {atWork ? (
            <Button data-lab-halt onClick={() => void cancel(atWork.id)}>
              Stop after this one
            </Button>
          ) : (
            <Button data-lab-all disabled={left.length === 0} onClick={() => test(left)}>
              {left.length === cloths.length ? "Test all cloths" : left.length > 0 ? `Test the other ${left.length}` : "All are tested"}
            </Button>
          )}
          <span className="text-ink-soft" role="status">
            {atWork ? `${cloths.find(isBusy)?.name ?? "The next cloth"} is on the bench; it goes on when this is closed.` : "Grey is the range of the book; amber readings are more than a tenth off what the values of the cloth say."}
          </span>
        </div>
      </div>
      <aside className="flex w-[230px] shrink-0 flex-col gap-3 overflow-y-auto">
        {shown && <Chosen cloth={shown} sheet={sheetOf(shown)} busy={atWork !== undefined} test={() => test([shown])} />}
        <JobList costume={state.id} kind="cloths" title="Tests" none="None yet." />
      </aside>
    </div>
  );
}

function ClothRow({ cloth, sheet, chosen, busy, choose }: { cloth: Cloth; sheet: LabSheet | undefined; chosen: boolean; busy: boolean; choose: () => void }) {
  const { swatch } = cloth;
  const [low, high] = [swatch.drape_low, swatch.drape_high];
  const drape = sheet ? mean(sheet.drape) : null;
  const inside = drape === null || Object.keys(cloth.own).length > 0 || (drape >= low && drape <= high);
  return (
    <tr className={`border-edge border-t ${chosen ? "bg-tape" : "hover:bg-sheet"}`} data-lab-cloth={cloth.key} data-lab-done={sheet ? "yes" : "no"}>
      <th scope="row" className="px-2 py-1 text-left font-medium">
        <button type="button" className="flex items-center gap-2 text-left" onClick={choose}>
          <span className="h-3 w-3 shrink-0 rounded-full border border-ink/40" style={{ background: cloth.colour }} /> {cloth.name}
        </button>
      </th>
      <td className="figures px-2 py-1 text-right">
        {busy ? "…" : drape !== null && <span className={inside ? "" : "text-brick"}>{drape.toFixed(0)}</span>} <span className="text-[11px] text-ink-soft">{Object.keys(cloth.own).length > 0 ? "" : `${low}–${high}`}</span>
      </td>
      <td className="figures px-2 py-1 text-right">{sheet && mean(sheet.nodes).toFixed(0)}</td>
      {COLUMNS.map(([name, , tests]) => (
        <td key={name} className="figures px-2 py-1 text-right">
          {sheet && tests.map((t) => sheet.rows.find((r) => r.test === t)).map((r, k) => r && <Reading key={r.test} row={r} first={k === 0} />)}
        </td>
      ))}
    </tr>
  );
}

const written = (v: number) => (v >= 100 ? v.toFixed(0) : v >= 10 ? v.toFixed(1) : v.toFixed(2));

function Reading({ row, first }: { row: LabRow; first: boolean }) {
  const off = Math.abs(row.measured / row.expected - 1) > OFF;
  return (
    <span title={`${row.expected.toFixed(2)} ${row.unit} by the values of the cloth`}>
      {!first && <span className="text-ink-soft"> / </span>}
      <span className={off ? "text-amber" : ""}>{written(row.measured)}</span>
    </span>
  );
}

const NAMES: Record<string, string> = { "bending-warp": "Bending, warp", "bending-weft": "Bending, weft", "strip-warp": "Sag, warp", "strip-weft": "Sag, weft", "strip-bias": "Sag, bias", shear: "Shear", slope: "Slides at" };

/** One cloth from near: the shadow of its disc, and every reading beside its formula. */
function Chosen({ cloth, sheet, busy, test }: { cloth: Cloth; sheet: LabSheet | undefined; busy: boolean; test: () => void }) {
  return (
    <div data-lab-chosen={cloth.key}>
      <h3 className="mb-2 font-semibold">{cloth.name}</h3>
      {sheet ? (
        <>
          <svg viewBox="-158 -158 316 316" className="w-full" role="img" aria-label="Shadow of a disc of 30 cm draped over a stand of 18 cm">
            <circle r={150} className="fill-none stroke-edge" strokeWidth={1.5} />
            <path d={linePath(sheet.outline)} fill={cloth.colour} className="stroke-ink" strokeWidth={2} />
            <circle r={90} className="fill-none stroke-ink" strokeOpacity={0.4} strokeWidth={1.5} />
          </svg>
          <p className="figures mb-2 text-center text-[11px] text-ink-soft">
            {sheet.drape.length} discs: {range(sheet.drape)} %, {range(sheet.nodes)} folds
          </p>
          <table className="w-full text-[12px]">
            <thead>
              <tr className="text-ink-soft">
                <th className="text-left font-normal">Test</th>
                <th className="text-right font-normal">reads</th>
                <th className="text-right font-normal">by its values</th>
              </tr>
            </thead>
            <tbody>
              {sheet.rows.map((r) => (
                <tr key={r.test} className="border-edge/60 border-t">
                  <td className="py-0.5">{NAMES[r.test] ?? r.test}</td>
                  <td className="figures text-right">
                    {written(r.measured)} {r.unit}
                  </td>
                  <td className="figures text-right text-ink-soft">{written(r.expected)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : (
        <>
          <p className="mb-2 text-ink-soft">Not tested yet. A disc of 30 cm over a stand of 18 cm, a cantilever, hanging strips, a shear frame and a slope, all with the solver that drapes.</p>
          <Button disabled={busy} data-lab-one onClick={test}>
            Test this cloth
          </Button>
        </>
      )}
    </div>
  );
}
