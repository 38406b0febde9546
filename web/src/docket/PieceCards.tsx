import { useState } from "react";
import { useBodies } from "../api/costume";
import type { Piece, Placement } from "../api/types";
import { removeSelected } from "../commands/selection";
import { desk, type Selection, useDeskOf } from "../desk/store";
import { beside } from "../table/find";
import type { ShownPiece } from "../table/shown";
import { useVeil, veil } from "../stand/veil";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { format } from "../ui/units";
import { BlockCard } from "./BlockCard";
import { Advice, Card, Row } from "./Card";
import { CornerCard } from "./CornerCard";
import { EdgeCard } from "./EdgeCard";
import { InsideCard } from "./InsideCard";
import { MarksCard } from "./MarksCard";
import { PieceTools } from "./PieceTools";
import { PrintPlaceFields } from "./PrintPlaceFields";
import type { DocketProps } from "./props";
import { Choice } from "../ui/Choice";

type Props = DocketProps & { selection: Exclude<Selection, { kind: "seam" }> };

/** The selected piece, and its selected corner or edge. */
export function PieceCards(props: Props) {
  const { state, actions, selection } = props;
  const piece = state.costume.pieces.find((p) => p.id === selection.piece);
  const [renaming, setRenaming] = useState(false);
  const { unit, stage } = useDeskOf("unit", "stage");
  const view = state.pattern.pieces.find((v) => v.piece === selection.piece);
  if (!piece || !view) return null;
  const shown: ShownPiece = { id: piece.id, doc: piece, view, fabric: undefined };
  const { print } = state.costume.fabrics.find((f) => f.id === piece.fabric) ?? { print: null };
  const block = state.costume.blocks?.find((b) => b.pieces.includes(piece.id));
  const partner = view.twin_of === null ? undefined : state.costume.pieces.find((p) => p.id === view.twin_of);
  return (
    <>
      {selection.kind === "corner" && <CornerCard actions={actions} piece={shown} node={selection.node} />}
      {selection.kind === "edge" && (
        <>
          <InsideCard actions={actions} piece={shown} line={selection.line} />
          <EdgeCard state={state} actions={actions} piece={shown} line={selection.line} />
          <MarksCard actions={actions} piece={shown} line={selection.line} />
        </>
      )}
      <Card title={piece.name}>
        <Row name="Width × height" value={`${format(view.width, unit, false)} × ${format(view.height, unit)}`} />
        <Row name="Corners" value={view.outline.length} />
        {partner && <Row name="Twin of" value={partner.name} />}
        <Choice label="Fabric" value={String(piece.fabric)} options={state.costume.fabrics.map((f) => [String(f.id), f.name] as const)} onChange={(id) => actions.edit({ do: "set-fabric", piece: piece.id, fabric: Number(id) })} />
        <NumberField label="Grain" value={piece.grain} unit={unit} plain="°" onChange={(degrees) => actions.edit({ do: "set-grain", piece: piece.id, degrees })} />
        {print && <PrintPlaceFields piece={piece} once={print.once ?? false} actions={actions} />}
        <NumberField label="Wear order" value={piece.wear ?? 1} unit={unit} plain="" step={1} onChange={(wear) => actions.edit({ do: "set-wear", piece: piece.id, wear: Math.round(wear) })} />
        {stage !== "join" && (
          <div className="mt-2 flex flex-wrap gap-2">
            <Button onClick={() => setRenaming(true)}>Rename</Button>
            <Button onClick={() => actions.edit({ do: "copy-piece", piece: piece.id, at: beside(shown) })}>Copy</Button>
            <Button
              onClick={() => {
                desk.select({ kind: "piece", piece: piece.id });
                removeSelected({ actions });
              }}
            >
              Remove
            </Button>
          </div>
        )}
      </Card>
      {block && stage !== "join" && <BlockCard block={block} drafted={state.block_values[state.costume.blocks?.indexOf(block) ?? 0] ?? {}} actions={actions} />}
      {stage === "draft" && <PieceTools state={state} actions={actions} piece={shown} />}
      {stage === "draft" && <MarksCard actions={actions} piece={shown} />}
      <PlaceCard {...props} piece={piece} />
      {renaming && <AskName title="Rename piece" label="Name" start={piece.name} confirm="Rename" onClose={() => setRenaming(false)} onDone={(name) => actions.edit({ do: "rename-piece", piece: piece.id, name })} />}
    </>
  );
}

/** Where the piece hangs on the body. */
function PlaceCard({ state, actions, piece }: Props & { piece: Piece }) {
  const { hidden, ghosts } = useVeil();
  const bodies = useBodies();
  const { unit } = useDeskOf("unit");
  const place = (placement: Placement | null) => actions.edit({ do: "place", piece: piece.id, placement });
  const at = piece.placement;
  const stations = (bodies.data?.stations ?? []).map((s) => [s.key, s.name] as const);
  return (
    <Card title="Place on the body">
      {!at && !piece.parked && <Advice>It has no station yet, so it cannot hang.</Advice>}
      <Choice label="Station" value={at?.station ?? ""} none="choose…" options={stations} onChange={(station) => place({ station, shift: at?.shift ?? { x: 0, y: 0 }, turn: at?.turn ?? 0 })} />
      {at && (
        <>
          <NumberField label="Around" value={at.shift.x} unit={unit} step={10} onChange={(x) => place({ ...at, shift: { ...at.shift, x } })} />
          <NumberField label="Up" value={at.shift.y} unit={unit} step={10} onChange={(y) => place({ ...at, shift: { ...at.shift, y } })} />
          <NumberField label="Turn" value={at.turn} unit={unit} plain="°" onChange={(turn) => place({ ...at, turn })} />
          <NumberField label="Lean" value={at.lean ?? 0} unit={unit} plain="°" step={5} onChange={(lean) => place({ ...at, lean })} />
          <NumberField label="Clearance" value={at.clearance ?? 20} unit={unit} step={5} onChange={(clearance) => place({ ...at, clearance })} />
          <label className="mt-1 flex items-center gap-2">
            <input type="checkbox" data-flip-piece checked={at.flip ?? false} onChange={(e) => place({ ...at, flip: e.target.checked })} /> Turned over, its wrong side out
          </label>
          <div className="mt-2 flex flex-wrap gap-2">
            <Button data-lift onClick={() => place({ ...at, clearance: Math.min(400, (at.clearance ?? 20) + 30) })}>
              Lift off
            </Button>
            <Button onClick={() => place(null)}>Take down</Button>
          </div>
        </>
      )}
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" data-parked checked={piece.parked} onChange={(e) => actions.edit({ do: "park", piece: piece.id, parked: e.target.checked })} /> Parked: left out of the drape
      </label>
      <div className="mt-2 flex flex-wrap gap-2">
        <Button data-ghost onClick={() => veil.ghost(piece.id)}>
          {ghosts.includes(piece.id) ? "Solid" : "See through"}
        </Button>
        <Button data-hide onClick={() => veil.hide(piece.id)}>
          {hidden.includes(piece.id) ? "Show" : "Hide"}
        </Button>
        <Button data-isolate onClick={() => (hidden.length > 0 ? veil.showAll() : veil.isolate(piece.id, state.costume.pieces.map((p) => p.id)))}>
          {hidden.length > 0 ? "Show all" : "Alone"}
        </Button>
      </div>
    </Card>
  );
}
