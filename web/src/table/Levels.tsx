import { aroundStation, levelsOf, useMeasures } from "../body/measures";
import type { BodyChoice, PieceView } from "../api/types";
import { selectedPiece, useDesk } from "../desk/store";
import { format, formatSigned } from "../ui/units";
import { type Camera, toScreen } from "./camera";
import { atStation, cornerBox, type ShownPattern, toTableFrame } from "./shown";

/** Levels at which a piece is told against the girth of the body. */
const GIRTHS = ["bust", "waist", "hip"];

/** Width of the cloth at a height of the piece's frame, by chords of its outline; none where it has no cloth. */
function widthAt(view: PieceView, y: number): number | null {
  const points = view.outline.flatMap((l) => {
    if (!l.handles) return [l.from];
    const [u, v] = l.handles;
    const at = (t: number, k: "x" | "y") => (1 - t) ** 3 * l.from[k] + 3 * (1 - t) ** 2 * t * u[k] + 3 * (1 - t) * t * t * v[k] + t ** 3 * l.to[k];
    return Array.from({ length: 16 }, (_, i) => ({ x: at(i / 16, "x"), y: at(i / 16, "y") }));
  });
  const xs = points.flatMap((a, i) => {
    const b = points[(i + 1) % points.length] ?? a;
    const t = (y - a.y) / (b.y - a.y);
    return t >= 0 && t < 1 ? [a.x + t * (b.x - a.x)] : [];
  });
  xs.sort((a, b) => a - b);
  let sum = 0;
  for (let k = 0; k + 1 < xs.length; k += 2) sum += (xs[k + 1] ?? 0) - (xs[k] ?? 0);
  return sum > 0 ? sum : null;
}

/** Levels of the body across the selected piece, where it hangs, and its width against the girth there. */
export function Levels({ pattern, camera, body }: { pattern: ShownPattern; camera: Camera; body: BodyChoice }) {
  const chosen = useDesk((s) => selectedPiece(s.selection));
  const unit = useDesk((s) => s.unit);
  const measures = useMeasures(body);
  const piece = pattern.pieces.find((p) => p.id === chosen);
  const at = piece?.view.placement;
  const around = at ? aroundStation(at.station) : null;
  if (!piece || !at || !around?.level || at.turn !== 0) return null;
  const levels = levelsOf(measures);
  const own = levels.get(around.level);
  const zero = atStation(piece.view)?.y;
  if (own === undefined || zero === undefined) return null;
  const { left, right, low, high } = cornerBox(piece.view);
  return (
    <g pointerEvents="none" data-levels>
      {[...levels].map(([name, height]) => {
        const y = zero + height - own;
        if (y < low - 30 || y > high + 30) return null;
        const [a, b] = [toScreen(camera, toTableFrame(piece.view, { x: left - 25, y })), toScreen(camera, toTableFrame(piece.view, { x: right + 25, y }))];
        const girth = GIRTHS.includes(name) ? measures.get(name)?.mm : undefined;
        const share = around.share;
        const wide = widthAt(piece.view, y);
        const over = girth === undefined || wide === null ? null : wide - share * girth;
        const words = over === null || b.x - a.x < 200 ? name : `${share === 1 ? "" : "½ "}${name} ${format(share * (girth ?? 0), unit, false)} ${formatSigned(over, unit)}`;
        return (
          <g key={name} data-level={name}>
            <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} stroke="var(--color-guide)" strokeWidth={1} strokeDasharray="10 4" />
            <text x={a.x} y={a.y - 4} className="figures fill-ink-soft text-[11px]" paintOrder="stroke" stroke="var(--color-sheet)" strokeWidth={3}>
              {words}
            </text>
          </g>
        );
      })}
    </g>
  );
}
