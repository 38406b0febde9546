import type { CornerId, Piece, Point } from "../api/types";
import { type Camera, toScreen } from "./camera";

/** Screen geometry of one edge. */
export interface EdgeShape {
  edge: CornerId;
  from: Point;
  to: Point;
  leave: Point | null;
  arrive: Point | null;
  path: string;
}

export function edgeShapes(piece: Piece, camera: Camera): EdgeShape[] {
  const at = (p: Point) => toScreen(camera, { x: p.x + piece.at.x, y: p.y + piece.at.y });
  return piece.corners.map((corner, i) => {
    const next = piece.corners[(i + 1) % piece.corners.length] ?? corner;
    const [from, to] = [at(corner.at), at(next.at)];
    const [leave, arrive] = corner.bow ? [at(corner.bow.leave), at(corner.bow.arrive)] : [null, null];
    const middle = leave && arrive ? `C ${leave.x} ${leave.y} ${arrive.x} ${arrive.y} ${to.x} ${to.y}` : `L ${to.x} ${to.y}`;
    return { edge: corner.id, from, to, leave, arrive, path: `M ${from.x} ${from.y} ${middle}` };
  });
}

/** A point of the edge at the curve parameter t. */
export function pointOn(e: EdgeShape, t: number): Point {
  const u = 1 - t;
  if (!e.leave || !e.arrive) return { x: e.from.x * u + e.to.x * t, y: e.from.y * u + e.to.y * t };
  const mix = (k: "x" | "y") => u * u * u * e.from[k] + 3 * u * u * t * (e.leave as Point)[k] + 3 * u * t * t * (e.arrive as Point)[k] + t * t * t * e.to[k];
  return { x: mix("x"), y: mix("y") };
}

/** The curve parameter of the point of the edge nearest to a screen point. */
export function nearestOn(e: EdgeShape, p: Point): number {
  const distance = (t: number) => {
    const q = pointOn(e, t);
    return Math.hypot(q.x - p.x, q.y - p.y);
  };
  let best = 0;
  for (let k = 0; k <= 64; k++) if (distance(k / 64) < distance(best)) best = k / 64;
  for (let step = 1 / 128; step > 1e-4; step /= 2) {
    for (const t of [best - step, best + step]) if (t >= 0 && t <= 1 && distance(t) < distance(best)) best = t;
  }
  return best;
}

/** Unit normal at the middle of an edge, pointing out of a counter-clockwise piece (screen coordinates). */
export function outward(e: EdgeShape): Point {
  const [a, b] = [pointOn(e, 0.48), pointOn(e, 0.52)];
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  return { x: -(b.y - a.y) / length, y: (b.x - a.x) / length };
}
