import { Download } from "lucide-react";
import { desk, useDesk } from "../desk/store";
import { format } from "../ui/units";
import { Advice, Card, Row } from "./Card";
import type { DocketProps } from "./Docket";
import { FabricCard } from "./FabricCard";
import { Choice } from "../ui/Choice";

const FINENESS = [
  ["toile", "Toile · 20 mm"],
  ["sample", "Sample · 10 mm"],
] as const;

/** The costume as a whole. */
export function CostumeCards({ state, actions }: DocketProps) {
  const { costume } = state;
  const unit = useDesk((s) => s.unit);
  const length = (piece: number) => state.edges.filter((e) => e.piece === piece).reduce((sum, e) => sum + e.length, 0);
  return (
    <>
      <Card title={costume.name}>
        {costume.pieces.length === 0 && <p className="text-ink-soft">Draw the first piece with Outline or Band.</p>}
        {costume.pieces.map((p) => (
          <button key={p.id} type="button" className="flex w-full items-baseline justify-between rounded px-1 py-1 text-left hover:bg-paper" onClick={() => desk.select({ kind: "piece", piece: p.id })}>
            <span>{p.name}</span>
            <span className="figures text-ink-soft" title="Length of the outline">
              {format(length(p.id), unit)}
            </span>
          </button>
        ))}
        <Row name="Seams" value={costume.seams.length} />
        <div className="mt-1">
          {typeof costume.fineness === "string" && costume.fineness !== "final" && (
            <Choice label="Mesh" value={costume.fineness} options={FINENESS} onChange={(fineness) => actions.edit({ do: "choose-fineness", fineness })} />
          )}
        </div>
      </Card>
      <Faults state={state} />
      {costume.fabrics.map((f) => (
        <FabricCard key={f.id} fabric={f} actions={actions} />
      ))}
      <a href={`/api/costumes/${state.id}/file`} className="flex items-center gap-1.5 px-1 text-ink-soft hover:text-ink hover:underline">
        <Download size={14} /> Save as a costume file
      </a>
    </>
  );
}

/** What the costume lacks; a click selects the item. */
export function Faults({ state }: { state: DocketProps["state"] }) {
  if (state.faults.length === 0) return null;
  return (
    <Card title="To look at">
      {state.faults.map((f) => (
        <button
          key={`${f.item}${f.reason}`}
          type="button"
          className="block w-full text-left"
          onClick={() => {
            if (f.piece !== null) desk.select({ kind: "piece", piece: f.piece });
            if (f.seam !== null) desk.select({ kind: "seam", seam: f.seam });
          }}
        >
          <Advice>
            <strong className="font-semibold">{f.item}</strong> {f.reason}. <span className="text-ink-soft">{f.mend}</span>
          </Advice>
        </button>
      ))}
    </Card>
  );
}
