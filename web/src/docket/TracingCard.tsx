import { ImagePlus, Trash2 } from "lucide-react";
import type { Underlay } from "../api/types";
import { useDeskOf } from "../desk/store";
import { sketch, useSketch } from "../table/sketch";
import { takeTraced } from "../table/tools/tracing";
import { bringPicture, layPage, measuresOf, underlaysOf, useUnderlays } from "../table/underlays";
import { Button } from "../ui/Button";
import { FileField } from "../ui/FileField";
import { NumberField } from "../ui/NumberField";
import { Slider } from "../ui/Slider";
import { Card } from "./Card";
import type { DocketProps } from "./props";

type Props = Pick<DocketProps, "state" | "actions">;

const HELP: Record<string, string> = {
  trace: "Click inside a printed outline. What is found is proposed; you take it or refuse it.",
  "two-points": "Click two places on the picture whose distance you know.",
  ruler: "Click at one end of a ruler in the picture, then along it, across its ticks.",
  straighten: "Click the four corners of a rectangle that you know, one after the other.",
};

/** Pictures under the paper: brought, faded, turned, scaled, held. */
export function TracingCard({ state, actions }: Props) {
  const { tool } = useDeskOf("tool");
  const { pages, busy } = useUnderlays();
  const all = underlaysOf(state);
  const help = HELP[tool];
  return (
    <Card title="Tracing">
      {help && all.length > 0 && <p className="pb-1.5 text-ink-soft">{help}</p>}
      {tool === "trace" && <Proposal actions={actions} />}
      {all.map((u) => (
        <One key={u.id} underlay={u} actions={actions} />
      ))}
      {pages && (
        <div className="py-1">
          <p>{pages.name}: which page?</p>
          <div className="mt-1 flex flex-wrap gap-1">
            {pages.pages.map((_, k) => (
              <button key={`${k}`} type="button" className="h-7 min-w-8 rounded border border-line bg-white px-2 hover:bg-tape" onClick={() => layPage(pages, k, state, actions)} data-page={k}>
                {k + 1}
              </button>
            ))}
          </div>
        </div>
      )}
      <FileField accept=".png,.jpg,.jpeg,.pdf" mark="picture-file" onFile={(file) => void bringPicture(file, state, actions)}>
        {(open) => (
          <button type="button" className="flex items-center gap-1.5 py-0.5 text-left text-ink-soft hover:text-ink hover:underline" onClick={open} disabled={busy} data-lay-picture>
            <ImagePlus size={14} className="shrink-0" /> {busy ? "Reading the picture" : "Lay a scan or photo under the paper"}
          </button>
        )}
      </FileField>
    </Card>
  );
}

/** The outline that was found last, to be taken or refused. */
function Proposal({ actions }: Pick<Props, "actions">) {
  const traced = useSketch((s) => s.traced);
  const busy = useUnderlays((s) => s.busy);
  if (busy) return <p className="pb-1.5">Looking for the outline</p>;
  if (!traced) return null;
  return (
    <div className="mb-2 rounded-md border border-line bg-white p-2" data-proposal={traced.corners}>
      <p>
        {traced.corners} corners, {(traced.area / 100).toFixed(0)} cm²
      </p>
      {traced.bridged > 0.2 && <p className="text-ink-soft">Its line had gaps of up to {traced.bridged.toFixed(0)} mm</p>}
      <div className="mt-1.5 flex gap-1.5">
        <Button onClick={() => takeTraced({ actions })} data-take-traced>
          Take it as a piece
        </Button>
        <Button onClick={() => sketch.clear()}>Refuse</Button>
      </div>
    </div>
  );
}

function One({ underlay, actions }: { underlay: Underlay } & Pick<Props, "actions">) {
  const { unit } = useDeskOf("unit");
  const { id, name, fade, locked = false, page = 0 } = underlay;
  const { dpi, turn } = measuresOf(underlay);
  const show = (to: { fade?: number; locked?: boolean }) => actions.edit({ do: "show-underlay", underlay: id, fade, locked, ...to });
  return (
    <div className="mb-2 border-edge border-b border-dashed pb-2" data-underlay-card={id}>
      <div className="flex items-center justify-between gap-2">
        <span className="truncate font-medium" title={name}>
          {name}
          {page > 0 && `, page ${page + 1}`}
        </span>
        <button type="button" aria-label={`Take ${name} out`} className="rounded p-1 text-ink-soft hover:bg-paper hover:text-ink" onClick={() => actions.edit({ do: "take-underlay", underlay: id })}>
          <Trash2 size={14} />
        </button>
      </div>
      <div className="flex items-center gap-3 py-1 text-ink-soft">
        Faded
        <Slider label={`How far ${name} is faded`} value={fade} low={0} high={0.95} step={0.05} onMove={() => undefined} onDone={(v) => show({ fade: v })} />
      </div>
      <NumberField label="Resolution" value={dpi} unit={unit} plain="dpi" step={10} onChange={(to) => actions.edit({ do: "set-underlay-dpi", underlay: id, dpi: to })} />
      <NumberField label="Turned" value={turn} unit={unit} plain="°" step={0.5} onChange={(to) => actions.edit({ do: "turn-underlay", underlay: id, by: to - turn })} />
      <label className="flex items-center gap-2 py-1">
        <input type="checkbox" checked={locked} onChange={(e) => show({ locked: e.target.checked })} /> Held where it lies
      </label>
    </div>
  );
}
