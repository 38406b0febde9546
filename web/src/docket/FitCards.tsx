import { useState } from "react";
import { get } from "../api/http";
import type { EaseKind, EaseOutcome, FreeValue, JobRow, PieceChange } from "../api/types";
import { useJobbing } from "../check/api";
import { selectedPieces, useDesk, useDeskOf } from "../desk/store";
import { useDrapeOf } from "../stand/socket";
import { useRecipes } from "../table/Blocks";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { format, formatSigned } from "../ui/units";
import { Advice, Card, Row } from "./Card";
import { JobList } from "./JobList";
import type { DocketProps } from "./props";

const GIRTHS = [
  ["neck", "Neck"],
  ["bust", "Bust"],
  ["underbust", "Underbust"],
  ["waist", "Waist"],
  ["hip", "Hip"],
  ["upper-arm", "Upper arm"],
  ["thigh", "Thigh"],
  ["knee", "Knee"],
  ["calf", "Calf"],
] as const;
type GirthKey = (typeof GIRTHS)[number][0];

const KINDS: [EaseKind | "none", string][] = [
  ["none", "nothing wanted"],
  ["close", "close"],
  ["regular", "regular"],
  ["loose", "loose"],
];

/** The room that is wanted, and the pattern changed until it is there. */
export function FitCards(props: DocketProps) {
  return (
    <>
      <FitToEase {...props} />
      <JobList costume={props.state.id} kind="ease" title="Fittings to ease" none="None yet.">
        {(job) => <Tries job={job} {...props} />}
      </JobList>
      <WantedCard {...props} />
    </>
  );
}

/** Ranges of ease by girth, which the check holds the garment against. */
function WantedCard({ state, actions }: DocketProps) {
  const unit = useDesk((s) => s.unit);
  const { checked } = useDrapeOf("checked");
  const wanted = state.costume.wanted_ease ?? {};
  const set = (ranges: Record<string, [number, number]>) => actions.edit({ do: "want-ease", ranges });
  const fill = async (kind: EaseKind | "none") => set(kind === "none" ? {} : await get<Record<string, [number, number]>>(`/api/ease/${kind}`));
  const plain = Object.fromEntries(Object.entries(wanted).flatMap(([k, v]) => (v ? [[k, v]] : []))) as Record<string, [number, number]>;
  // those that the garment has come first, and all that are wanted
  const shown = GIRTHS.filter(([key]) => plain[key] || checked?.girths.some((g) => g.measure === key));
  return (
    <Card title="Wanted ease">
      <Choice label="Kind of garment" value={"" as EaseKind | "none"} none="fill in…" options={KINDS} onChange={(k) => void fill(k)} />
      {shown.map(([key, name]) => {
        const range = plain[key];
        return (
          <div key={key} data-wanted={key} className="border-edge border-t py-1 first:border-t-0">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                checked={range !== undefined}
                onChange={(e) => {
                  const { [key]: _, ...rest } = plain;
                  set(e.target.checked ? { ...plain, [key]: [40, 100] } : rest);
                }}
              />
              {name}
            </label>
            {range && (
              <div className="pl-6">
                <NumberField narrow label={`${name}, least`} value={range[0]} unit={unit} onChange={(v) => set({ ...plain, [key]: [v, Math.max(v, range[1])] })} />
                <NumberField narrow label={`${name}, most`} value={range[1]} unit={unit} onChange={(v) => set({ ...plain, [key]: [Math.min(v, range[0]), v] })} />
              </div>
            )}
          </div>
        );
      })}
      {shown.length === 0 && <p className="mt-1 text-ink-soft">Check the drape: its girths are listed here then.</p>}
    </Card>
  );
}

const freeKey = (free: FreeValue | null) => (free === null ? "usual" : JSON.stringify(free));

/** What may change: values of blocks, and sizes of the pieces that are selected. */
function useFreeValues({ state }: DocketProps): [string, string, FreeValue | null][] {
  const recipes = useRecipes().data ?? [];
  const { selection, also } = useDeskOf("selection", "also");
  const blocks = (state.costume.blocks ?? []).flatMap((used) => {
    const recipe = recipes.find((r) => r.key === used.recipe);
    return (recipe?.values ?? []).filter((v) => v.unit === "mm").map((v) => ({ name: `${recipe?.name}: ${v.name.toLowerCase()}`, free: { kind: "block", block: used.id, value: v.key } as FreeValue }));
  });
  const names = new Map(state.costume.pieces.map((p) => [p.id, p.name]));
  const pieces = selectedPieces({ selection, also });
  const called = pieces.map((p) => names.get(p) ?? "a piece").join(", ");
  const sizes: { name: string; free: FreeValue }[] =
    pieces.length === 0
      ? []
      : [
          { name: `width of ${called}`, free: { kind: "size", pieces, up: false } },
          { name: `height of ${called}`, free: { kind: "size", pieces, up: true } },
        ];
  return [["usual", "what makes it wider there", null], ...[...blocks, ...sizes].map((o): [string, string, FreeValue] => [freeKey(o.free), o.name, o.free])];
}

function FitToEase(props: DocketProps) {
  const { state } = props;
  const unit = useDesk((s) => s.unit);
  const { checked } = useDrapeOf("checked");
  const { begin } = useJobbing(state.id);
  const has = (checked?.girths ?? []).map((g) => g.measure);
  const options = GIRTHS.filter(([key]) => has.length === 0 || has.includes(key));
  const [measure, setMeasure] = useState<GirthKey | null>(null);
  const girth = measure ?? options[0]?.[0] ?? "bust";
  const now = checked?.girths.find((g) => g.measure === girth);
  const [ease, setEase] = useState(80);
  const values = useFreeValues(props);
  const [chosen, setChosen] = useState("usual");
  const free = values.find(([key]) => key === chosen)?.[2] ?? null;
  return (
    <Card title="Fit to ease">
      <p className="mb-1 text-ink-soft">The pattern is changed and draped until the girth has the ease you want. Nothing is taken before you say so.</p>
      <Choice label="At the" value={girth} options={options} onChange={setMeasure} />
      {now && <Row name="Ease now" value={formatSigned(now.ease, unit)} tone={now.ease < 0 ? "text-brick" : ""} />}
      <NumberField label="Wanted ease" value={ease} unit={unit} onChange={setEase} />
      <Choice label="Change" value={values.some(([key]) => key === chosen) ? chosen : "usual"} options={values.map(([key, name]) => [key, name] as const)} onChange={setChosen} />
      <Button kind="main" className="mt-2 w-full" data-fit onClick={() => void begin({ kind: "ease", asked: { wanted: [{ measure: girth, ease }], free: free ? [free] : [] } })}>
        Fit
      </Button>
    </Card>
  );
}

/** Before and after, with the pattern's change; taken by a click. */
function Tries({ job, actions, state }: { job: JobRow } & DocketProps) {
  const unit = useDesk((s) => s.unit);
  const tries = job.results.flatMap((part) => (part.kind === "try" ? [part.tried] : []));
  const { outcome } = job;
  const wanted = job.asked.kind === "ease" ? job.asked.asked.wanted : [];
  const last = outcome ? outcome.best : tries.length - 1;
  if (tries.length === 0) return null;
  const eases = (k: number) => wanted.map((_, i) => formatSigned(tries[k]?.eases[i] ?? 0, unit)).join(", ");
  const shown = last > 0 ? ([["before", 0], ["after", last]] as const) : ([["before", 0]] as const);
  return (
    <div className="mt-2">
      <div className="flex gap-2">
        {shown.map(([name, k]) => (
          <figure key={name} className="flex-1">
            <img src={`/api/jobs/${job.id}/parts/${k}/picture`} alt={`The drape ${name}`} className="w-full rounded border border-edge" />
            <figcaption className="figures mt-0.5 text-[12px]">
              <span className="text-ink-soft">{name}</span> {eases(k)}
            </figcaption>
          </figure>
        ))}
      </div>
      {outcome && <Change outcome={outcome} unit={unit} />}
      {outcome && !outcome.reached && <Advice>The wanted ease was not reached; this is the nearest of {tries.length} drapes.</Advice>}
      {outcome && outcome.best > 0 && <Take outcome={outcome} state={state} actions={actions} />}
    </div>
  );
}

/** Sizes nearer than this are the same, mm. */
const SAME = 0.2;

/** Takes the pattern, as long as the pieces are as they were when it was fitted. */
function Take({ outcome, state, actions }: { outcome: EaseOutcome } & Pick<DocketProps, "state" | "actions">) {
  const is = (which: "before" | "after") =>
    outcome.pieces.every((p) => {
      const id = state.costume.pieces.find((o) => o.name === p.name)?.id;
      const view = state.pattern.pieces.find((v) => v.piece === id);
      return view !== undefined && Math.abs(view.width - p[which][0]) < SAME && Math.abs(view.height - p[which][1]) < SAME;
    });
  if (is("after")) return <p className="mt-2 text-moss">This pattern is taken.</p>;
  if (!is("before")) return <p className="mt-2 text-ink-soft">The pieces have changed since; fit them again.</p>;
  return (
    <Button className="mt-2 w-full" data-take-fit onClick={() => actions.edit(outcome.edit)}>
      Take this pattern
    </Button>
  );
}

/** By how much a piece is wider, or higher. */
function Change({ outcome, unit }: { outcome: EaseOutcome; unit: Parameters<typeof format>[1] }) {
  const changed = (p: PieceChange, k: 0 | 1) => formatSigned(p.after[k] - p.before[k], unit).replace(` ${unit}`, "");
  return (
    <div className="mt-1.5 text-[12px]">
      {outcome.values.map((v) => (
        <div key={v.name} className="flex justify-between gap-2">
          <span className="text-ink-soft">{v.name}</span>
          <span className="figures whitespace-nowrap">{formatSigned(v.by, unit)}</span>
        </div>
      ))}
      {outcome.pieces.map((p) => (
        <div key={p.name} className="flex justify-between gap-2" title={`${format(p.before[0], unit, false)} × ${format(p.before[1], unit)} becomes ${format(p.after[0], unit, false)} × ${format(p.after[1], unit)}`}>
          <span className="min-w-0 truncate text-ink-soft">{p.name}</span>
          <span className="figures whitespace-nowrap">
            {changed(p, 0)} × {changed(p, 1)} {unit}
          </span>
        </div>
      ))}
    </div>
  );
}
