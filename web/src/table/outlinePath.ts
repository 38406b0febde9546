import type { Piece } from "../api/types";

/** The outline of a piece as an SVG path, y downwards. */
export function outlinePath(piece: Piece, x = (v: number) => v, y = (v: number) => -v): string {
  const at = (p: { x: number; y: number }) => `${x(p.x + piece.at.x)} ${y(p.y + piece.at.y)}`;
  const [first] = piece.corners;
  if (!first) return "";
  const steps = piece.corners.map((corner, i) => {
    const to = piece.corners[(i + 1) % piece.corners.length] ?? first;
    return corner.bow ? `C ${at(corner.bow.leave)} ${at(corner.bow.arrive)} ${at(to.at)}` : `L ${at(to.at)}`;
  });
  return `M ${at(first.at)} ${steps.join(" ")} Z`;
}
