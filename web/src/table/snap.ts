import type { NodeId, PieceId, Point } from "../api/types";
import { nodesOf, type ShownPiece, toTableFrame } from "./shown";

export interface Snapped {
  at: Point;
  /** Why it snapped. */
  label: string | null;
}

interface Target {
  piece: PieceId | null;
  node: NodeId | null;
  /** Corners to be level with or plumb to: the neighbours of what is dragged. */
  neighbours: Point[];
}

/** Snaps a table point to corners of any piece, then to horizontal and vertical through its neighbours. `reach` in mm. */
export function snap(pieces: ShownPiece[], p: Point, target: Target, reach: number): Snapped {
  for (const piece of pieces) {
    if (piece.id === target.piece) continue;
    for (const { at } of nodesOf(piece.view)) {
      const q = toTableFrame(piece.view, at);
      if (Math.hypot(q.x - p.x, q.y - p.y) < reach) return { at: q, label: `on a corner of ${piece.doc.name}` };
    }
  }
  const level = target.neighbours.find((n) => Math.abs(n.y - p.y) < reach * 0.7);
  const plumb = target.neighbours.find((n) => Math.abs(n.x - p.x) < reach * 0.7);
  if (level && plumb && level !== plumb) return { at: { x: plumb.x, y: level.y }, label: "square" };
  if (level) return { at: { x: p.x, y: level.y }, label: "level" };
  if (plumb) return { at: { x: plumb.x, y: p.y }, label: "plumb" };
  return { at: p, label: null };
}
