import { useMemo } from "react";
import type { Costume, Run, SeamMeasure } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { formatSigned } from "../ui/units";
import type { Camera } from "./camera";
import { type EdgeShape, edgeShapes, pointOn } from "./shape";
import { DOT, placeTags, TAG } from "./tags";

interface Props {
  costume: Costume;
  camera: Camera;
  measures: SeamMeasure[];
}

/** Running stitch and letter tag on both sides of every seam; the selected one is tied together. */
export function SeamMarks({ costume, camera, measures }: Props) {
  const { selection, unit, stage, tool } = useDesk();
  const placed = useMemo(() => placeTags(costume, camera), [costume, camera]);
  const shape = (run: Run): EdgeShape | undefined => {
    const piece = costume.pieces.find((p) => p.id === run.piece);
    return piece && edgeShapes(piece, camera).find((e) => e.edge === run.edge);
  };
  return (
    <g data-seams>
      {costume.seams.map((seam) => {
        const measure = measures.find((m) => m.seam === seam.id);
        const chosen = selection?.kind === "seam" && selection.seam === seam.id;
        const colour = chosen ? "var(--color-thread)" : measure && !measure.even ? "var(--color-amber)" : "var(--color-ink)";
        const sides = [seam.a, seam.b].map((runs) => runs.map(shape).filter((e) => e !== undefined));
        const tags = placed.get(seam.id) ?? [null, null];
        const [a, b] = tags;
        return (
          <g key={seam.id} data-seam={seam.id}>
            {sides.flat().map((e) => (
              <g key={`${e.edge}`} fill="none" pointerEvents="none">
                <path d={e.path} stroke="var(--color-card)" strokeWidth={4} />
                <path d={e.path} stroke={colour} strokeWidth={chosen ? 3.4 : 2.2} strokeDasharray="7 4" />
              </g>
            ))}
            {chosen && [seam.a, seam.b].flat().map((run) => <Direction key={`${run.piece}.${run.edge}`} edge={shape(run)} backwards={run.backwards} />)}
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
                      desk.select({ kind: "seam", seam: seam.id });
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
            {chosen && stage === "join" && measure && a && b && (
              <g transform={`translate(${(a.x + b.x) / 2} ${(a.y + b.y) / 2 + 30})`} pointerEvents="none">
                <rect x={-44} y={-12} width={88} height={24} rx={5} fill="var(--color-card)" stroke="var(--color-thread)" />
                <text textAnchor="middle" dominantBaseline="central" className="figures fill-thread">
                  {formatSigned(measure.b - measure.a, unit)}
                </text>
              </g>
            )}
          </g>
        );
      })}
    </g>
  );
}

/** Arrowheads along one run: both sides are sewn from their start to their end. */
function Direction({ edge, backwards }: { edge: EdgeShape | undefined; backwards: boolean }) {
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
