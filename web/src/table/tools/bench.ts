import type { CostumeActions } from "../../api/costume";
import type { Point, Spot, Underlay } from "../../api/types";
import type { Camera } from "../camera";
import { type LineShape, lineShape, nearestOn, shareAt } from "../shape";
import { allLines, type ShownPattern, type ShownPiece, toPieceFrame } from "../shown";
import type { Snapped } from "../snap";

/** What is under the pointer. */
export interface Hit {
  kind: "piece" | "edge" | "corner" | "handle" | "tag" | null;
  piece: ShownPiece | undefined;
  line: number | null;
  node: number | null;
  handle: "leave" | "arrive" | null;
}

/** A place of the pointer. */
export interface Place {
  /** px within the table. */
  screen: Point;
  /** mm on the table, as it is and as it snapped. */
  table: Point;
  snapped: Snapped;
  hit: Hit;
  shift: boolean;
}

/** What a tool works with. */
export interface Bench {
  pattern: ShownPattern;
  camera: Camera;
  actions: CostumeActions;
  /** Id of the costume, and the pictures under the paper. */
  costume: number;
  underlays: Underlay[];
}

/** A tool of the table: what it does when the pointer is pressed, moved and let go. `held` is where it was pressed. */
export interface TableTool {
  down?: (bench: Bench, place: Place) => void;
  move?: (bench: Bench, place: Place, held: Place | null) => void;
  up?: (bench: Bench, place: Place, held: Place) => void;
  /** Takes what was begun as it is. */
  finish?: (bench: Bench) => void;
  /** Takes the last point back; whether there was one. */
  back?: () => void;
  /** Points that the next one is level with or plumb to. */
  neighbours?: () => Point[];
}

/** The shape of the line under the pointer. */
export function lineUnder(bench: Bench, { hit }: Place): LineShape | null {
  const view = hit.piece && hit.line !== null ? allLines(hit.piece.view).find((l) => l.line === hit.line && !l.image) : undefined;
  return hit.piece && view ? lineShape(hit.piece, view, bench.camera) : null;
}

/** The corner or the share of a line under the pointer. */
export function spotUnder(bench: Bench, place: Place): Spot | null {
  const { hit } = place;
  if (hit.kind === "corner" && hit.node !== null) return { node: hit.node };
  const line = lineUnder(bench, place);
  return line && hit.line !== null ? { on: { line: hit.line, at: shareAt(line, nearestOn(line, place.screen)) } } : null;
}

export const inPiece = (piece: ShownPiece, p: Point): Point => toPieceFrame(piece.view, p);

/** A name that no piece has yet. */
export const newName = (pattern: ShownPattern) => `Piece ${pattern.pieces.length + 1}`;
