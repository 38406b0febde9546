import type { LineId, PieceId, Point, SeamView } from "../api/types";
import type { ShownPiece } from "./shown";

/** The seam that a line is sewn with; one of the document before an image. */
export function seamAt(seams: SeamView[], piece: PieceId, line: LineId): SeamView | undefined {
  const on = (s: SeamView) => [...s.runs_a, ...s.runs_b].some((r) => r.piece === piece && r.line === line);
  return seams.find((s) => !s.image && on(s)) ?? seams.find(on);
}

/** Where a copy of a piece lies beside it. */
export function beside({ view }: ShownPiece): Point {
  return { x: view.at.x + view.width + 60, y: view.at.y };
}
