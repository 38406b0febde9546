import { X } from "lucide-react";
import { useState } from "react";
import { useBodies } from "../api/costume";
import type { Finish, Piece, Placement } from "../api/types";
import { removeSelected } from "../commands/selection";
import { desk, type Selection, useDeskOf } from "../desk/store";
import { beside, seamAt } from "../table/find";
import { allLines, foldsOf, nodesOf, type ShownPiece, toPieceFrame, toTableFrame } from "../table/shown";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { format } from "../ui/units";
import { Advice, Card, Row } from "./Card";
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
  const partner = view.twin_of === null ? undefined : state.costume.pieces.find((p) => p.id === view.twin_of);
  return (
    <>
      {selection.kind === "corner" && <CornerCard {...props} piece={shown} node={selection.node} />}
      {selection.kind === "edge" && <EdgeCard {...props} piece={shown} line={selection.line} />}
      <Card title={piece.name}>
        <Row name="Width × height" value={`${format(view.width, unit, false)} × ${format(view.height, unit)}`} />
        <Row name="Corners" value={view.outline.length} />
        {partner && <Row name="Twin of" value={partner.name} />}
        <Choice label="Fabric" value={String(piece.fabric)} options={state.costume.fabrics.map((f) => [String(f.id), f.name] as const)} onChange={(id) => actions.edit({ do: "set-fabric", piece: piece.id, fabric: Number(id) })} />
        <NumberField label="Grain" value={piece.grain} unit={unit} plain="°" onChange={(degrees) => actions.edit({ do: "set-grain", piece: piece.id, degrees })} />
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
      <PlaceCard {...props} piece={piece} />
      {renaming && <AskName title="Rename piece" label="Name" start={piece.name} confirm="Rename" onClose={() => setRenaming(false)} onDone={(name) => actions.edit({ do: "rename-piece", piece: piece.id, name })} />}
    </>
  );
}

function CornerCard({ actions, piece, node }: Props & { piece: ShownPiece; node: number }) {
  const { unit } = useDeskOf("unit");
  const { view } = piece;
  const corner = nodesOf(view).find((n) => n.node === node);
  if (!corner) return null;
  const around = view.outline.findIndex((l) => l.own_node && l.node === node);
  const { x, y } = toTableFrame(view, corner.at);
  const move = (to: { x: number; y: number }) => actions.edit({ do: "move-node", piece: piece.id, node, to: toPieceFrame(view, to) });
  return (
    <Card title={around < 0 ? "Corner inside" : `Corner ${around + 1}`}>
      <NumberField label="Across" value={x} unit={unit} onChange={(v) => move({ x: v, y })} />
      <NumberField label="Up" value={y} unit={unit} onChange={(v) => move({ x, y: v })} />
      {around >= 0 && <Folds actions={actions} piece={piece} node={node} />}
      <Button className="mt-2" disabled={around >= 0 && view.outline.length <= 3} onClick={() => removeSelected({ actions })}>
        Remove corner
      </Button>
    </Card>
  );
}

/** Degrees that a new fold line is pressed to. */
const NEW_FOLD = 90;

/** Straight fold lines from a corner to others of its piece. */
function Folds({ actions, piece, node }: { actions: Props["actions"]; piece: ShownPiece; node: number }) {
  const { unit } = useDeskOf("unit");
  const corners = piece.view.outline.filter((l) => l.own_node);
  const name = (id: number) => `corner ${piece.view.outline.findIndex((l) => l.own_node && l.node === id) + 1}`;
  const own = foldsOf(piece.view).flatMap((fold) => {
    const [from, to] = [fold.lines[0]?.node, fold.lines[fold.lines.length - 1]?.end];
    if (fold.lines.some((l) => l.image) || from === undefined || to === undefined) return [];
    return from === node || to === node ? [{ path: fold.path, to: from === node ? to : from, angle: fold.purpose.fold.angle }] : [];
  });
  const free = corners.filter((c) => c.node !== node && own.every((f) => f.to !== c.node));
  const fold = (to: number) => actions.edit({ do: "add-inside", piece: piece.id, points: [{ node }, { node: to }], purpose: { fold: { angle: NEW_FOLD } } });
  return (
    <>
      {own.map((f) => (
        <div key={f.to} className="flex items-center gap-1" data-fold-row={f.to}>
          <div className="grow">
            <NumberField label={`Fold to ${name(f.to)}`} value={f.angle} unit={unit} plain="°" step={5} onChange={(angle) => actions.edit({ do: "set-purpose", piece: piece.id, path: f.path, purpose: { fold: { angle } } })} />
          </div>
          <button type="button" aria-label={`Take out the fold to ${name(f.to)}`} className="rounded p-1 hover:bg-ink/5" onClick={() => actions.edit({ do: "remove-inside", piece: piece.id, path: f.path })}>
            <X size={14} />
          </button>
        </div>
      ))}
      <Choice label="New fold line" value="" none="to corner…" options={free.map((c) => [String(c.node), name(c.node)] as const)} onChange={(to) => fold(Number(to))} />
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
const finishKey = (finish: Finish | null): FinishKey => (finish === null ? "none" : typeof finish === "object" ? "elastic" : finish);
const finishOf = (key: FinishKey): Finish | null => (key === "none" ? null : key === "elastic" ? { elastic: { length: 70 } } : key);

/** "Edge 3" as the table counts them. */
function lineTitle(piece: ShownPiece, line: number): string {
  const edge = piece.view.outline.findIndex((l) => l.line === line && !l.image);
  if (edge >= 0) return `Edge ${edge + 1}`;
  const cutout = piece.view.cutouts.findIndex((c) => c.some((l) => l.line === line));
  return cutout >= 0 ? `Cut-out ${cutout + 1}` : "Line inside";
}

function EdgeCard({ state, actions, piece, line: id }: Props & { piece: ShownPiece; line: number }) {
  const { unit } = useDeskOf("unit");
  const line = allLines(piece.view).find((l) => l.line === id && !l.image);
  if (!line) return null;
  const seam = seamAt(state.pattern.seams, piece.id, id);
  const finish = (next: Finish | null) => actions.edit({ do: "finish-line", piece: piece.id, line: id, finish: next });
  const elastic = line.finish !== null && typeof line.finish === "object" && "elastic" in line.finish ? line.finish.elastic.length : null;
  return (
    <Card title={lineTitle(piece, id)}>
      <Row name="Length" value={format(line.length, unit)} />
      <Row name="Shape" value={line.handles ? "curve" : "straight"} />
      <Row name="Sewn" value={seam ? `seam ${seam.tag}` : "free"} />
      <Choice label="Finish" value={finishKey(line.finish)} options={FINISHES} onChange={(key) => finish(finishOf(key))} />
      {elastic !== null && <NumberField label="Elastic" value={elastic} unit={unit} plain="%" step={5} onChange={(percent) => finish({ elastic: { length: percent } })} />}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => actions.edit({ do: line.handles ? "straighten-line" : "curve-line", piece: piece.id, line: id })}>{line.handles ? "Make straight" : "Make a curve"}</Button>
        <Button onClick={() => actions.edit({ do: "split-line", piece: piece.id, line: id, fraction: 0.5, by_length: true })}>Corner in the middle</Button>
      </div>
    </Card>
  );
}

/** Where the piece hangs on the body. */
function PlaceCard({ actions, piece }: Props & { piece: Piece }) {
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
        </>
      )}
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" checked={piece.parked} onChange={(e) => actions.edit({ do: "park", piece: piece.id, parked: e.target.checked })} /> Parked: left out of the drape
      </label>
    </Card>
  );
}
