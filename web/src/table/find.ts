import type { LineId, PieceId, Point, SeamView } from "../api/types";
import type { ShownPiece } from "./shown";

/** The seam that a line is sewn with; one of the document before an image. */
export function seamAt(seams: SeamView[], piece: PieceId, line: LineId): SeamView | undefined {
  const on = (s: SeamView) => [...s.runs_a, ...s.runs_b].some((r) => r.piece === piece && r.line === line);
  return seams.find((s) => !s.image && on(s)) ?? seams.find(on);
}

/** Between a piece and what is laid beside it, mm. */
const APART = 60;

/** Where a copy of a piece lies beside it. */
export function beside({ view }: ShownPiece): Point {
  return { x: view.at.x + view.width + APART, y: view.at.y };
}

/** Where its twin lies beside it: mirrored, it reaches as far to the other side of its own origin. */
export function twinBeside({ view }: ShownPiece): Point {
  const right = Math.max(...view.outline.flatMap((l) => [l.from.x, l.to.x]));
  return { x: view.at.x + 2 * right + APART, y: view.at.y };
}
