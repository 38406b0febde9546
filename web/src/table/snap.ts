import type { NodeId, PieceId, PieceView, Point } from "../api/types";
import type { Guide } from "./guides";
import { allLines, nodesOf, type ShownPiece, toTableFrame } from "./shown";

export interface Snapped {
  at: Point;
  /** Why it snapped. */
  label: string | null;
}

export interface SnapTarget {
  piece: PieceId | null;
  node: NodeId | null;
  /** Corners to be level with or plumb to: the neighbours of what is dragged. */
  neighbours: Point[];
  guides: Guide[];
  /** Lines of the ruled paper are taken too, this far apart in mm; 0 for none. */
  ruled: number;
}

/** Snaps a table point to corners, middles and lines of other pieces, then to guides, level, plumb and square. `reach` in mm. */
export function snap(pieces: ShownPiece[], p: Point, target: SnapTarget, reach: number): Snapped {
  return onPieces(pieces, p, target, reach) ?? alongLines(p, target, reach);
}

const far = (a: Point, b: Point) => Math.hypot(a.x - b.x, a.y - b.y);

/** What of a piece can be snapped to, mm on the table. */
interface Marks {
  nodes: Point[];
  /** Ends of its straight lines. */
  straight: [Point, Point][];
  /** Around all of it with the ways of its lines beyond their ends. */
  box: { left: number; right: number; low: number; high: number };
}

const made = new WeakMap<PieceView, Marks>();

function marksOf(view: PieceView): Marks {
  const known = made.get(view);
  if (known) return known;
  const nodes = nodesOf(view).map((n) => toTableFrame(view, n.at));
  const lines = allLines(view).filter((l) => !l.handles);
  const straight = lines.map((l): [Point, Point] => [toTableFrame(view, l.from), toTableFrame(view, l.to)]);
  const beyond = BEYOND * Math.max(0, ...lines.map((l) => l.length));
  const all = [...nodes, ...straight.flat()];
  const [xs, ys] = [all.map((q) => q.x), all.map((q) => q.y)];
  const box = { left: Math.min(...xs) - beyond, right: Math.max(...xs) + beyond, low: Math.min(...ys) - beyond, high: Math.max(...ys) + beyond };
  const marks = { nodes, straight, box };
  made.set(view, marks);
  return marks;
}

/** A line is met on its way beyond its ends by this share of its length. */
const BEYOND = 0.5;

function onPieces(pieces: ShownPiece[], p: Point, target: SnapTarget, reach: number): Snapped | null {
  let line: { at: Point; off: number; name: string } | null = null;
  for (const piece of pieces) {
    if (piece.id === target.piece) continue;
    const { nodes, straight, box } = marksOf(piece.view);
    if (p.x < box.left - reach || p.x > box.right + reach || p.y < box.low - reach || p.y > box.high + reach) continue;
    const corner = nodes.find((q) => far(q, p) < reach);
    if (corner) return { at: corner, label: `on a corner of ${piece.doc.name}` };
    for (const [a, b] of straight) {
      const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
      if (far(middle, p) < reach) return { at: middle, label: `in the middle of an edge of ${piece.doc.name}` };
      const square = (b.x - a.x) ** 2 + (b.y - a.y) ** 2;
      const t = ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / (square || 1);
      const foot = { x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t };
      const off = far(foot, p);
      const length = Math.sqrt(square);
      if (off < reach * 0.6 && t > -BEYOND && t < 1 + BEYOND && length > 0 && (!line || off < line.off)) {
        line = { at: foot, off, name: t >= 0 && t <= 1 ? `on an edge of ${piece.doc.name}` : `in line with an edge of ${piece.doc.name}` };
      }
    }
  }
  return line ? { at: line.at, label: line.name } : null;
}

function alongLines(p: Point, target: SnapTarget, reach: number): Snapped {
  const near = reach * 0.7;
  const guideY = target.guides.find((g) => g.level && Math.abs(g.at - p.y) < near);
  const guideX = target.guides.find((g) => !g.level && Math.abs(g.at - p.x) < near);
  const level = target.neighbours.find((n) => Math.abs(n.y - p.y) < near);
  const plumb = target.neighbours.find((n) => Math.abs(n.x - p.x) < near);
  const x = guideX?.at ?? plumb?.x;
  const y = guideY?.at ?? level?.y;
  const why = (guide: boolean, other: string) => (guide ? "on a guide" : other);
  if (x !== undefined && y !== undefined) return { at: { x, y }, label: guideX && guideY ? "where guides meet" : guideX || guideY ? "on a guide" : level !== plumb ? "square" : "level" };
  if (y !== undefined) return { at: { x: p.x, y }, label: why(guideY !== undefined, "level") };
  if (x !== undefined) return { at: { x, y: p.y }, label: why(guideX !== undefined, "plumb") };
  if (target.ruled > 0) {
    const q = { x: Math.round(p.x / target.ruled) * target.ruled, y: Math.round(p.y / target.ruled) * target.ruled };
    if (far(p, q) < reach) return { at: q, label: "on the ruled paper" };
  }
  return { at: p, label: null };
}
