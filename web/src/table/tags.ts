import type { Point, RunView, SeamView } from "../api/types";
import type { Camera } from "./camera";
import { nameSpot } from "./nameSpot";
import { type Box, type Drawn, drawn, type LineShape, lineKey, lineShapes, meet, outward, pointOn, runsThrough } from "./shape";
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

/** The tags of all seams, side a and side b, with what they were placed by. */
export interface Placed {
  tags: Map<string, [Tag | null, Tag | null]>;
  sides: Map<string, { edge: LineShape; tag: Tag; box: Box }>;
  pieces: Map<number, Drawn>;
}

/**
 * Places the tags of all seams: none lies over another, over the name of a piece or over another line. Those that nothing
 * has come near since they were placed last stay.
 */
export function placeTags({ pieces, seams }: ShownPattern, camera: Camera, last: Placed | null): Placed {
  const now = new Map(pieces.map((p) => [p.id, drawn(p, camera)]));
  const changed = pieces.flatMap((p) => {
    const [was, is] = [last?.pieces.get(p.id), now.get(p.id)];
    return was === is ? [] : [was, is].flatMap((d) => (d ? [d.box] : []));
  });
  const taken: Box[] = pieces.flatMap((p) => {
    const spot = nameSpot(p, camera);
    return spot ? [{ left: spot.x - spot.width / 2, right: spot.x + spot.width / 2, top: spot.y - 14, bottom: spot.y - 14 + spot.height }] : [];
  });
  const sides: Placed["sides"] = new Map();
  const side = (key: string, runs: RunView[]): Tag | null => {
    const edges = runs.flatMap((run) => now.get(run.piece)?.byKey.get(lineKey(run.line, run.image)) ?? []);
    const edge = edges[Math.floor((edges.length - 1) / 2)];
    if (!edge) return null;
    const old = last?.sides.get(key);
    const stays = old?.edge === edge && !changed.some((box) => meet(box, wider(old.box)));
    const placed = stays ? old : { edge, ...place(edge, taken, (box) => covers(pieces, camera, edge, box)) };
    taken.push(placed.box);
    sides.set(key, placed);
    return placed.tag;
  };
  const tags = new Map(seams.map((seam): [string, [Tag | null, Tag | null]] => {
    const key = seamKey(seam);
    return [key, [side(`${key} a`, seam.runs_a), side(`${key} b`, seam.runs_b)]];
  }));
  return { tags, sides, pieces: now };
}

export const seamKey = (seam: SeamView) => `${seam.seam}${seam.image ? "'" : ""}`;

const wider = (box: Box): Box => ({ left: box.left - CLEAR, right: box.right + CLEAR, top: box.top - CLEAR, bottom: box.bottom + CLEAR });

/** A box lies over a line of any piece other than the one that it belongs to. */
const covers = (pieces: ShownPiece[], camera: Camera, own: LineShape, box: Box) => {
  const wide = wider(box);
  return pieces.some((p) => meet(drawn(p, camera).box, wide) && lineShapes(p, camera).some((e) => e !== own && runsThrough(e, wide)));
};

/** A free place for a tag beside an edge, and what it takes up. */
function place(e: LineShape, taken: Box[], covered: (box: Box) => boolean): { tag: Tag; box: Box } {
  const n = outward(e);
  const beside = (t: number, off: number): Point => {
    const at = pointOn(e, t);
    return { x: at.x + n.x * off, y: at.y + n.y * off };
  };
  const long = Math.hypot(e.to.x - e.from.x, e.to.y - e.from.y) >= SHORT;
  for (const t of long ? PLACES : []) {
    const at = beside(t, OFF);
    const box = around(at, TAG, TAG);
    if (!taken.some((b) => meet(b, box)) && !covered(box)) return { tag: { ...at, n, small: false }, box };
  }
  const at = beside(0.5, DOT + 3);
  return { tag: { ...at, n, small: true }, box: around(at, DOT, DOT) };
}
