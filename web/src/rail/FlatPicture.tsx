import type { Costume, Piece } from "../api/types";

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

/** The flat pieces of a costume, fitted into the frame. */
export function FlatPicture({ costume }: { costume: Costume }) {
  const points = costume.pieces.flatMap((p) => p.corners.map((c) => ({ x: c.at.x + p.at.x, y: -(c.at.y + p.at.y) })));
  if (points.length === 0) return <div className="grid h-full place-items-center text-ink-soft">Nothing drawn yet</div>;
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  const [width, height] = [Math.max(...xs) - left, Math.max(...ys) - top];
  const margin = 0.08 * Math.max(width, height);
  return (
    <svg viewBox={`${left - margin} ${top - margin} ${width + 2 * margin} ${height + 2 * margin}`} className="h-full w-full p-3" role="img" aria-label="Flat pieces">
      {costume.pieces.map((p) => (
        <path key={p.id} d={outlinePath(p)} fill={costume.fabrics.find((f) => f.id === p.fabric)?.colour} fillOpacity={0.35} stroke="var(--color-ink)" vectorEffect="non-scaling-stroke" strokeWidth={1.4} />
      ))}
    </svg>
  );
}
