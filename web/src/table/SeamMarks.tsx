import { useMemo } from "react";
import type { RunView } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { formatSigned } from "../ui/units";
import type { Camera } from "./camera";
import { type LineShape, lineKey, lineShapes, pointOn } from "./shape";
import type { ShownPattern } from "./shown";
import { DOT, placeTags, seamKey, TAG } from "./tags";

interface Props {
  pattern: ShownPattern;
  camera: Camera;
}

/** Running stitch and letter tag on both sides of every seam; the selected one is tied together. */
export function SeamMarks({ pattern, camera }: Props) {
  const selection = useDesk((s) => s.selection);
  const unit = useDesk((s) => s.unit);
  const stage = useDesk((s) => s.stage);
  const tool = useDesk((s) => s.tool);
  const placed = useMemo(() => placeTags(pattern, camera), [pattern, camera]);
  const shapes = useMemo(() => new Map(pattern.pieces.map((p) => [p.id, new Map(lineShapes(p, camera).map((e) => [e.key, e]))])), [pattern, camera]);
  const shape = (run: RunView): LineShape | undefined => shapes.get(run.piece)?.get(lineKey(run.line, run.image));
  return (
    <g data-seams>
      {pattern.seams.map((seam) => {
        const chosen = selection?.kind === "seam" && selection.seam === seam.seam;
        const colour = chosen ? "var(--color-thread)" : seam.even ? "var(--color-ink)" : "var(--color-amber)";
        const runs = [...seam.runs_a, ...seam.runs_b];
        const tags = placed.get(seamKey(seam)) ?? [null, null];
        const [a, b] = tags;
        return (
          <g key={seamKey(seam)} data-seam={seam.seam}>
            {runs.map((run, k) => {
              const d = stretch(shape(run), run);
              return (
                <g key={`${k}`} fill="none" pointerEvents="none">
                  <path d={d} stroke="var(--color-card)" strokeWidth={4} />
                  <path d={d} stroke={colour} strokeWidth={chosen ? 3.4 : 2.2} strokeDasharray="7 4" />
                </g>
              );
            })}
            {chosen && runs.map((run, k) => <Direction key={`${k}`} edge={shape(run)} backwards={run.from > run.to} />)}
            {chosen && a && b && (
              <path d={`M ${a.x} ${a.y} C ${a.x + a.n.x * 60} ${a.y + a.n.y * 60 + 30} ${b.x + b.n.x * 60} ${b.y + b.n.y * 60 + 30} ${b.x} ${b.y}`} fill="none" stroke="var(--color-thread)" strokeWidth={1.2} pointerEvents="none" />
            )}
            {tags.map(
              (t, k) =>
                t && (
                  <g
                    key={k === 0 ? "a" : "b"}
                    transform={`translate(${t.x} ${t.y})`}
                    className="cursor-pointer"
                    data-hit="tag"
                    onPointerDown={(e) => {
                      if (tool !== "pick" && tool !== "seam") return;
                      e.stopPropagation();
                      desk.select({ kind: "seam", seam: seam.seam });
                    }}
                  >
                    <title>{`Seam ${seam.tag}`}</title>
                    {t.small && !chosen && <circle r={TAG} fill="transparent" />}
                    <circle r={t.small && !chosen ? DOT : TAG} fill={chosen ? "var(--color-thread)" : "var(--color-card)"} stroke={colour} strokeWidth={1.4} />
                    {(!t.small || chosen) && (
                      <text textAnchor="middle" dominantBaseline="central" className={`font-heading font-semibold text-[11px] ${chosen ? "fill-card" : "fill-ink"}`}>
                        {seam.tag}
                      </text>
                    )}
                  </g>
                ),
            )}
            {chosen && stage === "join" && a && b && (
              <g transform={`translate(${(a.x + b.x) / 2} ${(a.y + b.y) / 2 + 30})`} pointerEvents="none">
                <rect x={-44} y={-12} width={88} height={24} rx={5} fill="var(--color-card)" stroke="var(--color-thread)" />
                <text textAnchor="middle" dominantBaseline="central" className="figures fill-thread">
                  {formatSigned(seam.b - seam.a, unit)}
                </text>
              </g>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** The part of a line that a run covers, as a path. */
function stretch(edge: LineShape | undefined, run: RunView): string {
  if (!edge) return "";
  const [low, high] = [Math.min(run.from, run.to), Math.max(run.from, run.to)];
  if (low === 0 && high === 1) return edge.path;
  const points = Array.from({ length: 17 }, (_, k) => pointOn(edge, low + ((high - low) * k) / 16));
  return `M ${points.map((p) => `${p.x} ${p.y}`).join(" L ")}`;
}

/** Arrowheads along one run: both sides are sewn from their start to their end. */
function Direction({ edge, backwards }: { edge: LineShape | undefined; backwards: boolean }) {
  if (!edge) return null;
  const short = Math.hypot(edge.to.x - edge.from.x, edge.to.y - edge.from.y) < 90;
  const heads = (short ? [0.5] : [0.2, 0.8]).map((t) => {
    const [p, q] = [pointOn(edge, t - 0.01), pointOn(edge, t + 0.01)];
    const angle = (Math.atan2(q.y - p.y, q.x - p.x) * 180) / Math.PI + (backwards ? 180 : 0);
    return <path key={t} d="M-5 -5.5L6 0L-5 5.5Z" stroke="var(--color-card)" strokeWidth={1} fill="var(--color-thread)" transform={`translate(${(p.x + q.x) / 2} ${(p.y + q.y) / 2}) rotate(${angle})`} />;
  });
  return (
    <g pointerEvents="none" data-direction={backwards ? "backwards" : "forwards"}>
      {heads}
    </g>
  );
}
