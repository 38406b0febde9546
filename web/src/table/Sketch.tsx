import type { Point } from "../api/types";
import { useDeskOf } from "../desk/store";
import { format } from "../ui/units";
import { type Camera, toScreen } from "./camera";

interface Props {
  sketch: Point[];
  camera: Camera;
  label: string | null;
  pointer: Point | null;
}

/** The outline being drawn, with live lengths, and the reason of a snap beside the pointer. */
export function Sketch({ sketch, camera, label, pointer }: Props) {
  const { tool, unit } = useDeskOf("tool", "unit");
  const drawn = pointer && sketch.length > 0 ? [...sketch, pointer] : sketch;
  const corners = tool === "band" && sketch[0] && pointer ? [sketch[0], { x: pointer.x, y: sketch[0].y }, pointer, { x: sketch[0].x, y: pointer.y }, sketch[0]] : drawn;
  const screen = corners.map((p) => toScreen(camera, p));
  const at = pointer && toScreen(camera, pointer);
  return (
    <g pointerEvents="none">
      {screen.length > 1 && <path d={`M ${screen.map((p) => `${p.x} ${p.y}`).join(" L ")}`} fill="rgb(168 50 58 / 0.06)" stroke="var(--color-thread)" strokeWidth={1.6} />}
      {screen.slice(1).map((p, i) => {
        const [q, a, b] = [screen[i], corners[i], corners[i + 1]];
        if (!q || !a || !b || Math.hypot(p.x - q.x, p.y - q.y) < 24) return null;
        return (
          <text key={`${i}`} x={(p.x + q.x) / 2} y={(p.y + q.y) / 2 - 8} textAnchor="middle" className="figures fill-thread" paintOrder="stroke" stroke="var(--color-sheet)" strokeWidth={3}>
            {format(Math.hypot(b.x - a.x, b.y - a.y), unit)}
          </text>
        );
      })}
      {tool === "outline" && screen.map((p, i) => <rect key={`${i}`} x={p.x - 3.5} y={p.y - 3.5} width={7} height={7} fill={i === 0 ? "var(--color-thread)" : "var(--color-card)"} stroke="var(--color-thread)" />)}
      {at && label && (
        <g transform={`translate(${at.x + 14} ${at.y - 22})`}>
          <rect width={label.length * 6.6 + 14} height={20} rx={4} fill="var(--color-ink)" />
          <text x={7} y={14} className="fill-card text-[11px]">
            {label}
          </text>
        </g>
      )}
    </g>
  );
}
