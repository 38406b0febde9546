import { X } from "lucide-react";
import { useState } from "react";
import { useBodies } from "../api/costume";
import type { EdgeFinish, Piece, Placement } from "../api/types";
import { desk, type Selection, useDesk } from "../desk/store";
import { beside, seamAt } from "../table/find";
import { removeSelected } from "../table/Tray";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { format } from "../ui/units";
import { Advice, Card, Row } from "./Card";
import type { DocketProps } from "./Docket";
import { Choice } from "../ui/Choice";

type Props = DocketProps & { selection: Exclude<Selection, { kind: "seam" }> };

/** The selected piece, and its selected corner or edge. */
export function PieceCards(props: Props) {
  const { state, actions, selection } = props;
  const piece = state.costume.pieces.find((p) => p.id === selection.piece);
  const [renaming, setRenaming] = useState(false);
  const { unit, stage } = useDesk();
  if (!piece) return null;
  const size = state.sizes.find((s) => s.piece === piece.id);
  return (
    <>
      {selection.kind === "corner" && <CornerCard {...props} piece={piece} corner={selection.corner} />}
      {selection.kind === "edge" && <EdgeCard {...props} piece={piece} edge={selection.edge} />}
      <Card title={piece.name}>
        <Row name="Width × height" value={size ? `${format(size.width, unit, false)} × ${format(size.height, unit)}` : "…"} />
        <Row name="Corners" value={piece.corners.length} />
        <Choice label="Fabric" value={String(piece.fabric)} options={state.costume.fabrics.map((f) => [String(f.id), f.name] as const)} onChange={(id) => actions.edit({ do: "set-fabric", piece: piece.id, fabric: Number(id) })} />
        <NumberField label="Grain" value={piece.grain} unit={unit} plain="°" onChange={(degrees) => actions.edit({ do: "set-grain", piece: piece.id, degrees })} />
        <NumberField label="Wear order" value={piece.wear ?? 1} unit={unit} plain="" step={1} onChange={(wear) => actions.edit({ do: "set-wear", piece: piece.id, wear: Math.round(wear) })} />
        {stage !== "join" && (
          <div className="mt-2 flex flex-wrap gap-2">
            <Button onClick={() => setRenaming(true)}>Rename</Button>
            <Button onClick={() => actions.edit({ do: "copy-piece", piece: piece.id, at: beside(piece) })}>Copy</Button>
            <Button
              onClick={() => {
                desk.select({ kind: "piece", piece: piece.id });
                removeSelected(actions);
              }}
            >
              Remove
            </Button>
          </div>
        )}
      </Card>
      <PlaceCard {...props} piece={piece} />
      {renaming && <AskName title="Rename piece" label="Name" start={piece.name} confirm="Rename" onClose={() => setRenaming(false)} onDone={(name) => actions.edit({ do: "rename-piece", piece: piece.id, name })} />}
    </>
  );
}

function CornerCard({ actions, piece, corner: id }: Props & { piece: Piece; corner: number }) {
  const { unit } = useDesk();
  const i = piece.corners.findIndex((c) => c.id === id);
  const corner = piece.corners[i];
  if (!corner) return null;
  const x = corner.at.x + piece.at.x;
  const y = corner.at.y + piece.at.y;
  const move = (to: { x: number; y: number }) => actions.edit({ do: "move-corner", piece: piece.id, corner: id, to: { x: to.x - piece.at.x, y: to.y - piece.at.y } });
  return (
    <Card title={`Corner ${i + 1}`}>
      <NumberField label="Across" value={x} unit={unit} onChange={(v) => move({ x: v, y })} />
      <NumberField label="Up" value={y} unit={unit} onChange={(v) => move({ x, y: v })} />
      <Folds actions={actions} piece={piece} corner={id} />
      <Button className="mt-2" disabled={piece.corners.length <= 3} onClick={() => removeSelected(actions)}>
        Remove corner
      </Button>
    </Card>
  );
}

/** Degrees that a new fold line is pressed to. */
const NEW_FOLD = 90;

/** Fold lines from a corner to others of its piece. */
function Folds({ actions, piece, corner }: { actions: Props["actions"]; piece: Piece; corner: number }) {
  const { unit } = useDesk();
  const name = (id: number) => `corner ${piece.corners.findIndex((c) => c.id === id) + 1}`;
  const own = (piece.folds ?? []).filter((f) => f.from === corner || f.to === corner).map((f) => ({ to: f.from === corner ? f.to : f.from, angle: f.angle }));
  const free = piece.corners.filter((c) => c.id !== corner && own.every((f) => f.to !== c.id));
  const fold = (to: number, angle: number | null) => actions.edit({ do: "fold-piece", piece: piece.id, from: corner, to, angle });
  return (
    <>
      {own.map((f) => (
        <div key={f.to} className="flex items-center gap-1" data-fold-row={f.to}>
          <div className="grow">
            <NumberField label={`Fold to ${name(f.to)}`} value={f.angle} unit={unit} plain="°" step={5} onChange={(angle) => fold(f.to, angle)} />
          </div>
          <button type="button" aria-label={`Take out the fold to ${name(f.to)}`} className="rounded p-1 hover:bg-ink/5" onClick={() => fold(f.to, null)}>
            <X size={14} />
          </button>
        </div>
      ))}
      <Choice label="New fold line" value="" none="to corner…" options={free.map((c) => [String(c.id), name(c.id)] as const)} onChange={(to) => fold(Number(to), NEW_FOLD)} />
    </>
  );
}

type FinishKey = "none" | "stay-tape" | "stay" | "elastic";
const FINISHES: [FinishKey, string][] = [
  ["none", "none"],
  ["stay-tape", "stay tape, keeps its length"],
  ["elastic", "elastic, gathers"],
  ["stay", "stay, holds its level"],
];
const finishKey = (finish: EdgeFinish | undefined): FinishKey => (finish === undefined ? "none" : typeof finish === "object" ? "elastic" : finish);
const finishOf = (key: FinishKey): EdgeFinish | null => (key === "none" ? null : key === "elastic" ? { elastic: { length: 70 } } : key);

function EdgeCard({ state, actions, piece, edge }: Props & { piece: Piece; edge: number }) {
  const { unit } = useDesk();
  const i = piece.corners.findIndex((c) => c.id === edge);
  const corner = piece.corners[i];
  if (!corner) return null;
  const length = state.edges.find((e) => e.piece === piece.id && e.edge === edge)?.length ?? 0;
  const seam = seamAt(state.costume, piece.id, edge);
  const finish = (next: EdgeFinish | null) => actions.edit({ do: "finish-edge", piece: piece.id, edge, finish: next });
  const elastic = typeof corner.finish === "object" ? corner.finish.elastic.length : null;
  return (
    <Card title={`Edge ${i + 1}`}>
      <Row name="Length" value={format(length, unit)} />
      <Row name="Shape" value={corner.bow ? "curve" : "straight"} />
      <Row name="Sewn" value={seam ? `seam ${seam.tag}` : "free"} />
      <Choice label="Finish" value={finishKey(corner.finish)} options={FINISHES} onChange={(key) => finish(finishOf(key))} />
      {elastic !== null && <NumberField label="Elastic" value={elastic} unit={unit} plain="%" step={5} onChange={(percent) => finish({ elastic: { length: percent } })} />}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => actions.edit({ do: corner.bow ? "straighten-edge" : "curve-edge", piece: piece.id, edge })}>{corner.bow ? "Make straight" : "Make a curve"}</Button>
        <Button onClick={() => actions.edit({ do: "add-corner", piece: piece.id, edge, fraction: 0.5, by_length: true })}>Corner in the middle</Button>
      </div>
    </Card>
  );
}

/** Where the piece hangs on the body. */
function PlaceCard({ actions, piece }: Props & { piece: Piece }) {
  const bodies = useBodies();
  const { unit } = useDesk();
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
        </>
      )}
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" checked={piece.parked} onChange={(e) => actions.edit({ do: "park", piece: piece.id, parked: e.target.checked })} /> Parked: left out of the drape
      </label>
    </Card>
  );
}
