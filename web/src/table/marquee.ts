import { create } from "zustand";
import type { PieceId, Point } from "../api/types";
import type { Selection } from "../desk/store";
import { type Camera, toScreen } from "./camera";
import { nodesOf, type ShownPiece, toTableFrame } from "./shown";

/** The box that is drawn to select what is in it, px. */
export const useMarquee = create<{ box: { from: Point; to: Point } | null }>(() => ({ box: null }));

/** Whole pieces within a box; when there is none, the corners of the piece in hand that are within. */
export function within(pieces: ShownPiece[], camera: Camera, from: Point, to: Point, inHand: PieceId | null): Selection[] {
  const inside = (p: Point) => p.x >= Math.min(from.x, to.x) && p.x <= Math.max(from.x, to.x) && p.y >= Math.min(from.y, to.y) && p.y <= Math.max(from.y, to.y);
  const corners = (piece: ShownPiece) => nodesOf(piece.view).map((n) => ({ node: n.node, at: toScreen(camera, toTableFrame(piece.view, n.at)) }));
  const whole = pieces.filter((p) => corners(p).every((c) => inside(c.at)));
  if (whole.length > 0) return whole.map((p) => ({ kind: "piece", piece: p.id }));
  const piece = pieces.find((p) => p.id === inHand);
  return piece ? corners(piece).filter((c) => inside(c.at)).map((c) => ({ kind: "corner", piece: piece.id, node: c.node })) : [];
}
