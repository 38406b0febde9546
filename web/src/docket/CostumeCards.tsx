import { Plus } from "lucide-react";
import { useState } from "react";
import type { Fineness } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { format } from "../ui/units";
import { Advice, Card, Row } from "./Card";
import { MendButtons } from "./Findings";
import type { DocketProps } from "./props";
import { FabricCard } from "./FabricCard";
import { FilesCard } from "./FilesCard";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { token } from "../ui/token";

const FINENESS = [
  ["toile", "Toile · 20 mm"],
  ["sample", "Sample · 10 mm"],
  ["final", "Final · 5 mm"],
  ["custom", "Own length"],
] as const;

/** How fine the mesh of the drape is. */
export function MeshChoice({ state, actions }: Pick<DocketProps, "state" | "actions">) {
  const { fineness } = state.costume;
  const unit = useDesk((s) => s.unit);
  const choose = (value: Fineness) => actions.edit({ do: "choose-fineness", fineness: value });
  const own = typeof fineness !== "string";
  return (
    <>
      <Choice label="Mesh" value={own ? "custom" : fineness} options={FINENESS} onChange={(v) => choose(v === "custom" ? { custom: 15 } : v)} />
      {own && <NumberField label="Triangle edge" value={fineness.custom} unit={unit} step={1} onChange={(mm) => choose({ custom: mm })} />}
    </>
  );
}

/** A further fabric, to be chosen for pieces. */
function AddFabric({ state, actions }: Pick<DocketProps, "state" | "actions">) {
  const [naming, setNaming] = useState(false);
  return (
    <>
      <Button onClick={() => setNaming(true)} data-add-fabric>
        <Plus size={15} /> Add a fabric
      </Button>
      {naming && (
        <AskName
          title="Add a fabric"
          label="Name"
          start={`Fabric ${state.costume.fabrics.length + 1}`}
          confirm="Add"
          onClose={() => setNaming(false)}
          onDone={(name) => actions.edit({ do: "add-fabric", name, swatch: "calico", colour: token("calico") })}
        />
      )}
    </>
  );
}

/** The costume as a whole. */
export function CostumeCards({ state, actions }: DocketProps) {
  const { costume } = state;
  const unit = useDesk((s) => s.unit);
  const length = (piece: number) => (state.pattern.pieces.find((v) => v.piece === piece)?.outline ?? []).reduce((sum, l) => sum + l.length, 0);
  return (
    <>
      <Card title={costume.name}>
        {costume.pieces.length === 0 && <p className="text-ink-soft">Draw the first piece with Outline or Band.</p>}
        {costume.pieces.length > 0 && (
          <div className="flex justify-between text-[11px] text-ink-soft">
            <span>Piece</span>
            <span>Length of its outline</span>
          </div>
        )}
        {costume.pieces.map((p) => (
          <button key={p.id} type="button" className="-mx-1.5 flex w-[calc(100%+12px)] items-baseline justify-between rounded px-1.5 py-1 text-left hover:bg-paper" onClick={() => desk.select({ kind: "piece", piece: p.id })}>
            <span>{p.name}</span>
            <span className="figures text-ink-soft">
              {format(length(p.id), unit)}
            </span>
          </button>
        ))}
        <Row name="Seams" value={costume.seams.length} />
        <div className="mt-1">
          <MeshChoice state={state} actions={actions} />
        </div>
      </Card>
      <Faults state={state} actions={actions} />
      {costume.fabrics.map((f) => (
        <FabricCard key={f.id} fabric={f} actions={actions} />
      ))}
      <AddFabric state={state} actions={actions} />
      <FilesCard state={state} actions={actions} />
    </>
  );
}

/** What the costume lacks; a click selects the item. */
export function Faults({ state, actions }: Pick<DocketProps, "state" | "actions">) {
  if (state.diagnostics.length === 0) return null;
  return (
    <Card title="To look at">
      {state.diagnostics.map((f) => (
        <Advice key={`${f.item}${f.reason}`}>
          <button
            type="button"
            className="block w-full text-left"
            onClick={() => {
              if (f.piece !== null) desk.select({ kind: "piece", piece: f.piece });
              if (f.seam !== null) desk.select({ kind: "seam", seam: f.seam });
            }}
          >
            <strong className="font-semibold">{f.item}</strong> {f.reason}. <span className="text-ink-soft">{f.remedy}</span>
          </button>
          <MendButtons diagnostic={f} actions={actions} />
        </Advice>
      ))}
    </Card>
  );
}
