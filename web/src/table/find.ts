import type { Costume, CornerId, Piece, PieceId, Point, Seam } from "../api/types";

/** The seam that an edge is sewn with. */
export function seamAt(costume: Costume, piece: PieceId, edge: CornerId): Seam | undefined {
  return costume.seams.find((s) => [...s.a, ...s.b].some((r) => r.piece === piece && r.edge === edge));
}

/** Where a copy of a piece lies beside it. */
export function beside(piece: Piece): Point {
  const xs = piece.corners.map((c) => c.at.x);
  return { x: piece.at.x + Math.max(...xs) - Math.min(...xs) + 60, y: piece.at.y };
}
