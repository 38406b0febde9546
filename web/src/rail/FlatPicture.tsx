import type { FlatPicture as Picture } from "../api/types";

/** The flat pieces of a costume, fitted into the frame. */
export function FlatPicture({ picture }: { picture: Picture | null }) {
  if (!picture) return <div className="grid h-full place-items-center text-ink-soft">Nothing drawn yet</div>;
  const [left, top, width, height] = picture.view;
  const margin = 0.08 * Math.max(width, height);
  return (
    <svg viewBox={`${left - margin} ${top - margin} ${width + 2 * margin} ${height + 2 * margin}`} className="h-full w-full p-3" role="img" aria-label="Flat pieces">
      {picture.pieces.map((p, i) => (
        <path key={i} d={p.path} fill={p.colour} fillOpacity={0.35} stroke="var(--color-ink)" vectorEffect="non-scaling-stroke" strokeWidth={1.4} />
      ))}
    </svg>
  );
}
