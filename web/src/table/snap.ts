import type { Costume, CornerId, PieceId, Point } from "../api/types";

export interface Snapped {
  at: Point;
  /** Why it snapped. */
  label: string | null;
}

interface Target {
  piece: PieceId | null;
  corner: CornerId | null;
  /** Corners to be level with or plumb to: the neighbours of what is dragged. */
  neighbours: Point[];
}

/** Snaps a table point to corners of any piece, then to horizontal and vertical through its neighbours. `reach` in mm. */
export function snap(costume: Costume, p: Point, target: Target, reach: number): Snapped {
  for (const piece of costume.pieces) {
    for (const c of piece.corners) {
      const q = { x: c.at.x + piece.at.x, y: c.at.y + piece.at.y };
      const own = piece.id === target.piece;
      if (!(own && (c.id === target.corner || target.neighbours.some((n) => n.x === q.x && n.y === q.y))) && Math.hypot(q.x - p.x, q.y - p.y) < reach) {
        if (!own) return { at: q, label: `on a corner of ${piece.name}` };
      }
    }
  }
  const level = target.neighbours.find((n) => Math.abs(n.y - p.y) < reach * 0.7);
  const plumb = target.neighbours.find((n) => Math.abs(n.x - p.x) < reach * 0.7);
  if (level && plumb && level !== plumb) return { at: { x: plumb.x, y: level.y }, label: "square" };
  if (level) return { at: { x: p.x, y: level.y }, label: "level" };
  if (plumb) return { at: { x: plumb.x, y: p.y }, label: "plumb" };
  return { at: p, label: null };
}
