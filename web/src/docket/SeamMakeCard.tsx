import type { CostumeActions } from "../api/costume";
import type { ClosureKind, Seam, SeamMake, SeamView } from "../api/types";
import { useDesk } from "../desk/store";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Slider } from "../ui/Slider";
import { Card } from "./Card";

type Closing = "none" | "zip" | "buttons" | "placket" | "slit";
const CLOSINGS: [Closing, string][] = [
  ["none", "sewn for good"],
  ["zip", "zip"],
  ["buttons", "buttons"],
  ["placket", "placket"],
  ["slit", "slit"],
];
const closingOf = (by: ClosureKind | undefined): Closing => (by === undefined ? "zip" : typeof by === "object" ? "buttons" : by);
const kindOf = (c: Exclude<Closing, "none">): ClosureKind => (c === "buttons" ? { buttons: { count: 6 } } : c);

type Held = "edge" | "lap" | "felled" | "laced";
const HELD: [Held, string][] = [
  ["edge", "edge to edge"],
  ["lap", "lapped"],
  ["felled", "lapped and felled"],
  ["laced", "held apart, laced"],
];
const heldOf = (m: SeamMake): Held => (m.lacing ? "laced" : m.lap !== undefined ? (m.felled ? "felled" : "lap") : "edge");

type Tape = "none" | "stay" | "elastic";
const TAPES: [Tape, string][] = [
  ["none", "none"],
  ["stay", "stay tape"],
  ["elastic", "elastic"],
];
const tapeOf = (m: SeamMake): Tape => (m.tape === undefined ? "none" : typeof m.tape === "object" ? "elastic" : "stay");

/** How a seam is made: pressed, closed, taped, lapped or laced, stitched. */
export function SeamMakeCard({ seam, view, actions }: { seam: Seam; view: SeamView; actions: CostumeActions }) {
  const unit = useDesk((s) => s.unit);
  const make = seam.make ?? {};
  const set = (part: Partial<Record<keyof SeamMake, SeamMake[keyof SeamMake] | undefined>>) => {
    const next = Object.fromEntries(Object.entries({ ...make, ...part }).filter(([, v]) => v !== undefined)) as SeamMake;
    actions.edit({ do: "make-seam", seam: seam.id, make: next });
  };
  const { closure } = seam;
  const buttons = closure && typeof closure.by === "object" ? closure.by.buttons.count : null;
  const close = (open: number, by: ClosureKind) => actions.edit({ do: "close-seam", seam: seam.id, closure: { open, by } });
  const elastic = typeof make.tape === "object" ? make.tape.elastic.length : null;
  const stitch = make.top_stitch;
  const held = heldOf(make);
  return (
    <Card title="How it is made">
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" data-pressed checked={seam.fold !== undefined} onChange={(e) => actions.edit({ do: "fold-seam", seam: seam.id, fold: e.target.checked ? 90 : null })} /> Pressed to an angle
      </label>
      {seam.fold !== undefined && (
        <>
          <NumberField label="Angle from flat" value={seam.fold} unit={unit} plain="°" step={5} onChange={(fold) => actions.edit({ do: "fold-seam", seam: seam.id, fold })} />
          <NumberField label="Firmness" value={make.press ?? 12} unit={unit} plain="×" step={1} onChange={(press) => set({ press })} />
        </>
      )}
      <Choice label="Closes by" value={closure ? closingOf(closure.by) : "none"} options={CLOSINGS} onChange={(c) => (c === "none" ? actions.edit({ do: "close-seam", seam: seam.id, closure: null }) : close(closure?.open ?? 0, kindOf(c)))} />
      {closure && <Opening open={closure.open} onChange={(open) => close(open, closure.by ?? "zip")} />}
      {closure && buttons !== null && <NumberField label="Buttons" value={buttons} unit={unit} plain="" step={1} onChange={(n) => close(closure.open, { buttons: { count: Math.round(n) } })} />}
      <Choice
        label="Edges lie"
        value={held}
        options={HELD}
        onChange={(h) => set({ lap: h === "lap" || h === "felled" ? (make.lap ?? 12) : undefined, felled: h === "felled" ? true : undefined, lacing: h === "laced" ? (make.lacing ?? { width: 40, steps: 5 }) : undefined })}
      />
      {make.lap !== undefined && <NumberField label="Overlap" value={make.lap} unit={unit} step={1} onChange={(lap) => set({ lap })} />}
      {make.lacing && (
        <>
          <NumberField label="Held apart by" value={make.lacing.width} unit={unit} step={5} onChange={(width) => make.lacing && set({ lacing: { ...make.lacing, width } })} />
          <NumberField label="Drawn in steps" value={make.lacing.steps} unit={unit} plain="" step={1} onChange={(steps) => make.lacing && set({ lacing: { ...make.lacing, steps: Math.round(steps) } })} />
        </>
      )}
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" data-gathered checked={make.gather !== undefined} onChange={(e) => set({ gather: e.target.checked ? Math.max(1, Math.round(100 * view.ratio) / 100) : undefined })} /> Gathered on purpose
      </label>
      {make.gather !== undefined && <NumberField label="Ratio meant" value={make.gather} unit={unit} plain=": 1" step={0.1} onChange={(gather) => set({ gather })} />}
      <Choice label="Tape in it" value={tapeOf(make)} options={TAPES} onChange={(t) => set({ tape: t === "none" ? undefined : t === "stay" ? "stay" : { elastic: { length: 70 } } })} />
      {elastic !== null && <NumberField label="Elastic" value={elastic} unit={unit} plain="%" step={5} onChange={(length) => set({ tape: { elastic: { length } } })} />}
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" data-stitched checked={stitch !== undefined} onChange={(e) => set({ top_stitch: e.target.checked ? { rows: 1, distance: 6, length: 3 } : undefined })} /> Stitched on the right side
      </label>
      {stitch && (
        <>
          <NumberField label="Rows" value={stitch.rows} unit={unit} plain="" step={1} onChange={(rows) => set({ top_stitch: { ...stitch, rows: Math.round(rows) } })} />
          <NumberField label="From the seam" value={stitch.distance} unit={unit} step={1} onChange={(distance) => set({ top_stitch: { ...stitch, distance } })} />
          <NumberField label="Stitch" value={stitch.length} unit={unit} step={0.5} onChange={(length) => set({ top_stitch: { ...stitch, length } })} />
        </>
      )}
    </Card>
  );
}

/** How far a closure is open, from its end; the drape goes on while it changes. */
function Opening({ open, onChange }: { open: number; onChange: (open: number) => void }) {
  return <Slider label="Open, %" value={Math.round(100 * open)} low={0} high={100} step={5} onMove={() => undefined} onDone={(v) => onChange(v / 100)} />;
}
