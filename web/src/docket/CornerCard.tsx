import { X } from "lucide-react";
import { useState } from "react";
import type { CostumeActions } from "../api/costume";
import { removeSelected } from "../commands/selection";
import { desk, selectedNodes, useDesk, useDeskOf } from "../desk/store";
import { useDraft } from "../table/draft";
import { allLines, foldsOf, nodesOf, type ShownPiece, toPieceFrame, toTableFrame } from "../table/shown";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";

interface Props {
  actions: CostumeActions;
  piece: ShownPiece;
  node: number;
}

/** A corner: where it is, whether it is sharp, smooth or round; several: moved together. */
export function CornerCard({ actions, piece, node }: Props) {
  const { unit } = useDeskOf("unit");
  const [size, setSize] = useState(20);
  const count = useDesk((s) => selectedNodes(s).length);
  const { softReach } = useDraft();
  const { view } = piece;
  const corner = nodesOf(view).find((n) => n.node === node);
  if (!corner) return null;
  const around = view.outline.findIndex((l) => l.own_node && l.node === node);
  const { x, y } = toTableFrame(view, corner.at);
  const move = (to: { x: number; y: number }) => actions.edit({ do: "move-node", piece: piece.id, node, to: toPieceFrame(view, to) });
  const smooth = "drawn" in piece.doc.shape && piece.doc.shape.drawn.nodes.find((n) => n.id === node)?.kind === "smooth";
  const nodes = selectedNodes(useDesk.getState());
  if (count > 1)
    return (
      <Card title={`${count} corners`}>
        <NumberField label="Others follow within" value={softReach} unit={unit} step={10} onChange={(reach) => useDraft.setState({ softReach: Math.max(0, reach) })} />
        <p className="mt-1 text-ink-soft">Drag one of them, and all move. {count === 2 && "Two corners can be the ends of a fold."}</p>
        {count === 2 && (
          <div className="mt-2 flex flex-wrap gap-2">
            <Button onClick={() => fold(nodes[0], nodes[1])}>Lay on the fold between them</Button>
          </div>
        )}
      </Card>
    );
  /** Of both halves, the one that is kept is told by the order of the corners; the other order is tried by choosing them anew. */
  function fold(from: number | undefined, to: number | undefined) {
    if (from === undefined || to === undefined) return;
    actions.edit({ do: "close-fold", piece: piece.id, from, to });
    desk.select({ kind: "piece", piece: piece.id });
  }
  return (
    <Card title={around < 0 ? "Corner inside" : `Corner ${around + 1}`}>
      <NumberField label="Across" value={x} unit={unit} onChange={(v) => move({ x: v, y })} />
      <NumberField label="Up" value={y} unit={unit} onChange={(v) => move({ x, y: v })} />
      {around >= 0 && <Folds actions={actions} piece={piece} node={node} />}
      <NumberField label="Others follow within" value={softReach} unit={unit} step={10} onChange={(reach) => useDraft.setState({ softReach: Math.max(0, reach) })} />
      {around >= 0 && <NumberField label="Round or cut off by" value={size} unit={unit} onChange={(v) => setSize(Math.max(1, v))} />}
      <div className="mt-2 flex flex-wrap gap-2">
        {around >= 0 && (
          <>
            <Button onClick={() => actions.edit({ do: "round-corner", piece: piece.id, node, radius: size })}>Round</Button>
            <Button onClick={() => actions.edit({ do: "chamfer-corner", piece: piece.id, node, length: size })}>Cut off</Button>
            <Button onClick={() => actions.edit({ do: "set-node-kind", piece: piece.id, node, kind: smooth ? "corner" : "smooth" })}>{smooth ? "Make sharp" : "Make smooth"}</Button>
          </>
        )}
        {isDart(piece, node) && <Button onClick={() => desk.take("turn-dart")}>Turn the dart to…</Button>}
        <Button disabled={around >= 0 && view.outline.length <= 3} onClick={() => removeSelected({ actions })}>
          Remove corner
        </Button>
      </div>
    </Card>
  );
}

/** Whether two straight lines of one length meet there at a sharp angle into the cloth. */
function isDart({ view }: ShownPiece, node: number): boolean {
  const lines = allLines(view);
  const [a, b] = [lines.find((l) => l.end === node && !l.image), lines.find((l) => l.node === node && l.own_node)];
  if (!a || !b || a.handles || b.handles || Math.abs(a.length - b.length) > 0.02 * a.length) return false;
  const turn = (b.to.x - b.from.x) * (a.to.y - a.from.y) - (b.to.y - b.from.y) * (a.to.x - a.from.x);
  return turn > 0 && Math.hypot(a.from.x - b.to.x, a.from.y - b.to.y) < 1.2 * a.length;
}

/** Degrees that a new fold line is pressed to. */
const NEW_FOLD = 90;

/** Straight fold lines from a corner to others of its piece. */
function Folds({ actions, piece, node }: Props) {
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

