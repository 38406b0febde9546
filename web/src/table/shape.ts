import type { LineView, Point } from "../api/types";
import { type Camera, toScreen } from "./camera";
import { allLines, type ShownPiece, toTableFrame } from "./shown";

/** Screen geometry of one line. */
export interface LineShape {
  view: LineView;
  /** Of its own in the piece. */
  key: string;
  from: Point;
  to: Point;
  leave: Point | null;
  arrive: Point | null;
  path: string;
}

export const lineKey = (line: number, image: boolean) => `${line}${image ? "'" : ""}`;

export function lineShape(piece: ShownPiece, view: LineView, camera: Camera): LineShape {
  const at = (p: Point) => toScreen(camera, toTableFrame(piece.view, p));
  const [from, to] = [at(view.from), at(view.to)];
  const [leave, arrive] = view.handles ? [at(view.handles[0]), at(view.handles[1])] : [null, null];
  return { view, key: lineKey(view.line, view.image), from, to, leave, arrive, path: `M ${from.x} ${from.y} ${segment(leave, arrive, to)}` };
}

const segment = (leave: Point | null, arrive: Point | null, to: Point) => (leave && arrive ? `C ${leave.x} ${leave.y} ${arrive.x} ${arrive.y} ${to.x} ${to.y}` : `L ${to.x} ${to.y}`);

/** A box on screen, px. */
export interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export const meet = (a: Box, b: Box) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

export interface Drawn {
  camera: Camera;
  shapes: LineShape[];
  /** The same by their keys. */
  byKey: Map<string, LineShape>;
  /** Around all lines; handles of a curve are never inside the curve. */
  box: Box;
  /** The lines are long enough on screen to be taken hold of one by one. */
  roomy: boolean;
}

const known = new WeakMap<ShownPiece, Drawn>();

/** Lines that are shorter than this on the average cannot be taken hold of one by one, px. */
const APART = 15;

/** A piece as it is drawn; made once for as long as neither the piece nor the camera changes. */
export function drawn(piece: ShownPiece, camera: Camera): Drawn {
  const old = known.get(piece);
  if (old?.camera === camera) return old;
  const shapes = allLines(piece.view).map((view) => lineShape(piece, view, camera));
  const points = shapes.flatMap((e) => [e.from, e.to, ...(e.leave && e.arrive ? [e.leave, e.arrive] : [])]);
  const box = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  for (const p of points) {
    box.left = Math.min(box.left, p.x);
    box.right = Math.max(box.right, p.x);
    box.top = Math.min(box.top, p.y);
    box.bottom = Math.max(box.bottom, p.y);
  }
  const length = shapes.reduce((sum, e) => sum + Math.hypot(e.to.x - e.from.x, e.to.y - e.from.y), 0);
  const made = { camera, shapes, byKey: new Map(shapes.map((e) => [e.key, e])), box, roomy: length > APART * shapes.length };
  known.set(piece, made);
  return made;
}

/** All lines of a piece. */
export const lineShapes = (piece: ShownPiece, camera: Camera): LineShape[] => drawn(piece, camera).shapes;

/** The outline and the cut-outs as one path, which is filled where there is cloth. */
export function clothPath(piece: ShownPiece, camera: Camera): string {
  const all = new Map(lineShapes(piece, camera).map((s) => [s.view, s]));
  const chain = (lines: LineView[]) => {
    const shapes = lines.flatMap((l) => all.get(l) ?? []);
    const [first] = shapes;
    return first ? `M ${first.from.x} ${first.from.y} ${shapes.map((s) => segment(s.leave, s.arrive, s.to)).join(" ")} Z` : "";
  };
  return [piece.view.outline, ...piece.view.cutouts].map(chain).join(" ");
}

/** A point of the line at the curve parameter t. */
export function pointOn(e: Pick<LineShape, "from" | "to" | "leave" | "arrive">, t: number): Point {
  const u = 1 - t;
  if (!e.leave || !e.arrive) return { x: e.from.x * u + e.to.x * t, y: e.from.y * u + e.to.y * t };
  const mix = (k: "x" | "y") => u * u * u * e.from[k] + 3 * u * u * t * (e.leave as Point)[k] + 3 * u * t * t * (e.arrive as Point)[k] + t * t * t * e.to[k];
  return { x: mix("x"), y: mix("y") };
}

/** A line runs through a box; a curve is taken as eight straight stretches. */
export function runsThrough(e: LineShape, box: Box): boolean {
  const steps = e.leave ? 8 : 1;
  return Array.from({ length: steps }, (_, k) => k).some((k) => crosses(pointOn(e, k / steps), pointOn(e, (k + 1) / steps), box));
}

/** Part of the straight stretch from a to b lies in a box. */
function crosses(a: Point, b: Point, box: Box): boolean {
  let [enters, leaves] = [0, 1];
  for (const [from, to, low, high] of [
    [a.x, b.x, box.left, box.right],
    [a.y, b.y, box.top, box.bottom],
  ] as const) {
    if (from === to && (from < low || from > high)) return false;
    if (from === to) continue;
    const [s, t] = [(low - from) / (to - from), (high - from) / (to - from)];
    enters = Math.max(enters, Math.min(s, t));
    leaves = Math.min(leaves, Math.max(s, t));
  }
  return enters <= leaves;
}

/** The curve parameter of the point of the line nearest to a screen point. */
export function nearestOn(e: LineShape, p: Point): number {
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

/** The point at a share of the length of a line. */
export function pointAtShare(e: LineShape, share: number): Point {
  if (!e.leave) return pointOn(e, share);
  let [low, high] = [0, 1];
  for (let k = 0; k < 12; k++) {
    const middle = (low + high) / 2;
    if (shareAt(e, middle) < share) low = middle;
    else high = middle;
  }
  return pointOn(e, (low + high) / 2);
}

/** The part of a line between two shares of its length, as a path. */
export function stretchPath(e: LineShape, from: number, to: number): string {
  const [low, high] = [Math.min(from, to), Math.max(from, to)];
  if (low === 0 && high === 1) return e.path;
  const points = Array.from({ length: 17 }, (_, k) => pointAtShare(e, low + ((high - low) * k) / 16));
  return `M ${points.map((p) => `${p.x} ${p.y}`).join(" L ")}`;
}

/** The share of the length that lies before a curve parameter. */
export function shareAt(e: LineShape, t: number): number {
  if (!e.leave || !e.arrive) return t;
  const steps = 256;
  let [before, whole, last] = [0, 0, e.from];
  for (let k = 1; k <= steps; k++) {
    const p = pointOn(e, k / steps);
    const d = Math.hypot(p.x - last.x, p.y - last.y);
    if (k / steps <= t) before += d;
    else if ((k - 1) / steps < t) before += d * (t * steps - (k - 1));
    whole += d;
    last = p;
  }
  return whole > 0 ? Math.min(1, before / whole) : t;
}

/** Unit normal at the middle of a line of a loop, pointing away from the cloth (screen coordinates). */
export function outward(e: LineShape): Point {
  const [a, b] = [pointOn(e, 0.48), pointOn(e, 0.52)];
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  return { x: -(b.y - a.y) / length, y: (b.x - a.x) / length };
}

/** The control point of the document that is shown beside the beginning of a line, or beside its end. */
export const handleEnd = (view: LineView, shown: "leave" | "arrive") => ((shown === "leave") === view.turned ? "to" : "from");
