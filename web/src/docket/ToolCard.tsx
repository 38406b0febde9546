import type { Pleat, SpreadBy } from "../api/types";
import { useDeskOf } from "../desk/store";
import { type NewPurpose, useDraft } from "../table/draft";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";

const PURPOSES: [NewPurpose, string][] = [
  ["style-line", "style line"],
  ["stitching", "stitching line"],
  ["fold", "fold line, pressed"],
  ["dart-leg", "dart leg"],
];
const WAYS: [SpreadBy, string][] = [
  ["hinge", "hinged at the second end"],
  ["parallel", "even all along"],
];
const PLEATS: [Pleat, string][] = [
  ["knife", "knife pleats"],
  ["box", "box pleats"],
  ["inverted", "inverted pleats"],
];

/** What the tool in hand does when it is used next. */
export function ToolCard() {
  const { tool, unit } = useDeskOf("tool", "unit");
  const draft = useDraft();
  const set = useDraft.setState;
  const box = (label: string, on: boolean, change: (on: boolean) => void) => (
    <label className="flex items-center gap-2 py-1">
      <input type="checkbox" checked={on} onChange={(e) => change(e.target.checked)} /> {label}
    </label>
  );
  switch (tool) {
    case "inside":
      return (
        <Card title="Line inside">
          <Choice label="Use" value={draft.purpose} options={PURPOSES} onChange={(purpose) => set({ purpose })} />
          {draft.purpose === "fold" && <NumberField label="Pressed to" value={draft.foldAngle} unit={unit} plain="°" onChange={(foldAngle) => set({ foldAngle })} />}
          <p className="mt-1 text-ink-soft">Begin on an edge or in the cloth; end on an edge, or with Enter.</p>
        </Card>
      );
    case "dart":
      return (
        <Card title="Dart">
          <NumberField label="Width" value={draft.dartWidth} unit={unit} onChange={(dartWidth) => set({ dartWidth })} />
          <p className="mt-1 text-ink-soft">Press on an edge and draw to where it ends. Its legs become a seam.</p>
        </Card>
      );
    case "turn-dart":
      return (
        <Card title="Turn a dart">
          <NumberField label="Turned share" value={draft.dartShare} unit={unit} plain="%" onChange={(dartShare) => set({ dartShare: Math.min(100, Math.max(1, dartShare)) })} />
          {box("As fullness to be gathered", draft.gathers, (gathers) => set({ gathers }))}
          <p className="mt-1 text-ink-soft">Select the point of the dart, then click the edge where it is to open.</p>
        </Card>
      );
    case "pleats":
      return (
        <Card title="Pleats">
          <Choice label="Kind" value={draft.pleat} options={PLEATS} onChange={(pleat) => set({ pleat })} />
          <NumberField label="Number" value={draft.pleats} unit={unit} plain="" step={1} onChange={(n) => set({ pleats: Math.min(40, Math.max(1, Math.round(n))) })} />
          <NumberField label="Depth" value={draft.pleatDepth} unit={unit} onChange={(pleatDepth) => set({ pleatDepth })} />
          {draft.pleats > 1 && <NumberField label="Apart" value={draft.pleatSpacing} unit={unit} onChange={(pleatSpacing) => set({ pleatSpacing })} />}
        </Card>
      );
    case "spread":
      return (
        <Card title="Spread">
          <NumberField label="Amount" value={draft.spreadAmount} unit={unit} onChange={(spreadAmount) => set({ spreadAmount })} />
          <Choice label="Opens" value={draft.spreadBy} options={WAYS} onChange={(spreadBy) => set({ spreadBy })} />
          <p className="mt-1 text-ink-soft">Click the edge that opens, then the edge across.</p>
        </Card>
      );
    case "cut":
      return <Card title="Cut apart">{box("Sew the cut together", draft.sewCut, (sewCut) => set({ sewCut }))}</Card>;
    case "notch":
      return (
        <Card title="Notch">
          {box("Double", draft.doubleNotch, (doubleNotch) => set({ doubleNotch }))}
          {box("On both sides of a seam", draft.bothSides, (bothSides) => set({ bothSides }))}
        </Card>
      );
    case "text":
      return (
        <Card title="Text">
          <input aria-label="Text" className="h-8 w-full rounded-md border border-line bg-white px-2" value={draft.text} maxLength={200} onChange={(e) => set({ text: e.target.value })} />
        </Card>
      );
    default:
      return null;
  }
}
