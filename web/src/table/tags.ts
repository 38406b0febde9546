import type { Point, RunView, SeamView } from "../api/types";
import type { Camera } from "./camera";
import { nameSpot } from "./nameSpot";
import { type Box, drawn, type LineShape, lineKey, lineShapes, meet, outward, pointOn, runsThrough } from "./shape";
import type { ShownPattern, ShownPiece } from "./shown";

/** Where a letter tag lies on screen; a small one is a dot, which tells its letter when hovered. */
export interface Tag extends Point {
  n: Point;
  small: boolean;
}

/** Radius of a tag, and of the dot that it shrinks to, px. */
export const TAG = 9.5;
export const DOT = 4;
/** Distance of a tag from its edge, px. */
const OFF = 17;
/** Around a tag no other line runs, so that each can be clicked, px. */
const CLEAR = 5;
/** Edges shorter than this on screen have no room for a letter, px. */
const SHORT = 26;
/** Places along an edge that are tried one after the other. */
const PLACES = [0.5, 0.35, 0.65, 0.22, 0.78];

const around = (p: Point, w: number, h: number): Box => ({ left: p.x - w, right: p.x + w, top: p.y - h, bottom: p.y + h });

/** The tags of all seams, side a and side b: none lies over another, over the name of a piece or over another line. */
export function placeTags({ pieces, seams }: ShownPattern, camera: Camera): Map<string, [Tag | null, Tag | null]> {
  const shapes = new Map(pieces.map((p) => [p.id, lineShapes(p, camera)] as const));
  const taken: Box[] = pieces.flatMap((p) => {
    const spot = nameSpot(p, camera);
    return spot ? [{ left: spot.x - spot.width / 2, right: spot.x + spot.width / 2, top: spot.y - 14, bottom: spot.y - 14 + spot.height }] : [];
  });
  const side = (runs: RunView[]): Tag | null => {
    const edges = runs.flatMap((run) => shapes.get(run.piece)?.find((e) => e.key === lineKey(run.line, run.image)) ?? []);
    const e = edges[Math.floor((edges.length - 1) / 2)];
    return e ? place(e, taken, (box) => covers(pieces, camera, e, box)) : null;
  };
  return new Map(seams.map((seam) => [seamKey(seam), [side(seam.runs_a), side(seam.runs_b)]]));
}

export const seamKey = (seam: SeamView) => `${seam.seam}${seam.image ? "'" : ""}`;

/** A box lies over a line of any piece other than the one that it belongs to. */
const covers = (pieces: ShownPiece[], camera: Camera, own: LineShape, box: Box) => {
  const wide = { left: box.left - CLEAR, right: box.right + CLEAR, top: box.top - CLEAR, bottom: box.bottom + CLEAR };
  return pieces.some((p) => meet(drawn(p, camera).box, wide) && lineShapes(p, camera).some((e) => e !== own && runsThrough(e, wide)));
};

/** A free place for a tag beside an edge; takes it. */
function place(e: LineShape, taken: Box[], covered: (box: Box) => boolean): Tag {
  const n = outward(e);
  const beside = (t: number, off: number): Point => {
    const at = pointOn(e, t);
    return { x: at.x + n.x * off, y: at.y + n.y * off };
  };
  const long = Math.hypot(e.to.x - e.from.x, e.to.y - e.from.y) >= SHORT;
  for (const t of long ? PLACES : []) {
    const box = around(beside(t, OFF), TAG, TAG);
    if (taken.some((b) => meet(b, box)) || covered(box)) continue;
    taken.push(box);
    return { ...beside(t, OFF), n, small: false };
  }
  const at = beside(0.5, DOT + 3);
  taken.push(around(at, DOT, DOT));
  return { ...at, n, small: true };
}
