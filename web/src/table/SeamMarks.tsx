import { memo, useMemo, useRef } from "react";
import type { RunView, SeamView } from "../api/types";
import { desk, isAside, useDesk } from "../desk/store";
import { ON_TOP } from "../stand/stitches";
import { type Camera, toScreen } from "./camera";
import { drawn, type LineShape, lineKey, pointOn, stretchPath } from "./shape";
import { type ShownPattern, toTableFrame } from "./shown";
import { DOT, type Placed, placeTags, seamKey, TAG, type Tag } from "./tags";

interface Props {
  pattern: ShownPattern;
  camera: Camera;
}

/** Running stitch and letter tag on both sides of every seam; the selected one is tied together. */
export const SeamMarks = memo(function SeamMarks({ pattern, camera }: Props) {
  const chosen = useDesk((s) => (s.selection?.kind === "seam" ? s.selection.seam : null));
  const last = useRef<Placed | null>(null);
  const placed = useMemo(() => placeTags(pattern, camera, last.current), [pattern, camera]);
  last.current = placed;
  const shapes = new Map(pattern.pieces.map((p) => [p.id, drawn(p, camera).byKey]));
  const shape = (run: RunView) => shapes.get(run.piece)?.get(lineKey(run.line, run.image));
  return (
    <g data-seams>
      <Stitching pattern={pattern} camera={camera} />
      {pattern.seams.map((seam) => {
        const tags = placed.tags.get(seamKey(seam)) ?? [null, null];
        return <SeamMark key={seamKey(seam)} seam={seam} chosen={chosen === seam.seam} edges={[...seam.runs_a, ...seam.runs_b].map(shape)} tags={tags} />;
      })}
    </g>
  );
});

/** Rows of top-stitching, stitch by stitch. */
function Stitching({ pattern, camera }: Props) {
  return pattern.seams.flatMap((seam) =>
    seam.stitches.map((row, k) => {
      const piece = pattern.pieces.find((p) => p.id === row.piece);
      const points = piece ? row.points.map((p) => toScreen(camera, toTableFrame(piece.view, p))) : [];
      const long = row.length * camera.scale;
      return (
        <path
          key={`${seamKey(seam)} ${k}`}
          d={`M ${points.map((p) => `${p.x.toFixed(2)} ${p.y.toFixed(2)}`).join(" L ")}`}
          fill="none"
          stroke="var(--color-ink)"
          strokeWidth={1}
          strokeDasharray={long > 3 ? `${ON_TOP * long} ${(1 - ON_TOP) * long}` : undefined}
          strokeOpacity={0.75}
          pointerEvents="none"
          data-top-stitch={seam.seam}
        />
      );
    }),
  );
}

/** Lines shorter than one stitch show none, px. */
const STITCH = 7;

interface MarkProps {
  seam: SeamView;
  chosen: boolean;
  /** The lines of its runs, side a first. */
  edges: (LineShape | undefined)[];
  tags: [Tag | null, Tag | null];
}

const sameTag = (a: Tag | null, b: Tag | null) => a === b || (a !== null && b !== null && a.x === b.x && a.y === b.y && a.n.x === b.n.x && a.n.y === b.n.y && a.small === b.small);

/** Nothing of a seam is drawn again as long as its lines and tags stay where they are. */
const sameMark = (a: MarkProps, b: MarkProps) =>
  a.seam === b.seam && a.chosen === b.chosen && a.edges.length === b.edges.length && a.edges.every((e, k) => e === b.edges[k]) && sameTag(a.tags[0], b.tags[0]) && sameTag(a.tags[1], b.tags[1]);

const SeamMark = memo(function SeamMark({ seam, chosen, edges, tags }: MarkProps) {
  const colour = chosen ? "var(--color-thread)" : seam.good ? "var(--color-ink)" : "var(--color-amber)";
  const runs = [...seam.runs_a, ...seam.runs_b];
  const [a, b] = tags;
  const joins = useDesk((s) => s.stage === "join");
  const aside = useDesk((s) => isAside(s.stage));
  return (
    <g data-seam={seam.seam}>
      {runs.map((run, k) => {
        const edge = edges[k];
        if (!edge || (!chosen && Math.hypot(edge.to.x - edge.from.x, edge.to.y - edge.from.y) < STITCH)) return null;
        const d = stretchPath(edge, run.from, run.to);
        return (
          <g key={`${k}`} fill="none" pointerEvents="none">
            <path d={d} stroke="var(--color-card)" strokeWidth={4} />
            <path d={d} stroke={colour} strokeWidth={chosen ? 3.4 : 2.2} strokeDasharray="7 4" />
          </g>
        );
      })}
      {chosen && runs.map((run, k) => <Direction key={`${k}`} edge={edges[k]} backwards={run.from > run.to} />)}
      {chosen && !joins && a && b && (
        <path d={`M ${a.x} ${a.y} C ${a.x + a.n.x * 60} ${a.y + a.n.y * 60 + 30} ${b.x + b.n.x * 60} ${b.y + b.n.y * 60 + 30} ${b.x} ${b.y}`} fill="none" stroke="var(--color-thread)" strokeWidth={1.2} pointerEvents="none" />
      )}
      {tags.map((t, k) => t && (chosen || !aside) && <Letter key={k === 0 ? "a" : "b"} seam={seam} tag={t} chosen={chosen} colour={colour} />)}
    </g>
  );
}, sameMark);

/** The letter of a seam; where there is no room for it, a dot that tells it when hovered. */
function Letter({ seam, tag, chosen, colour }: { seam: SeamView; tag: Tag; chosen: boolean; colour: string }) {
  const small = tag.small && !chosen;
  return (
    <g
      className="cursor-pointer"
      data-hit="tag"
      onPointerDown={(e) => {
        const { tool } = useDesk.getState();
        if (tool !== "pick" && tool !== "seam") return;
        e.stopPropagation();
        desk.select({ kind: "seam", seam: seam.seam });
      }}
    >
      <title>{`Seam ${seam.tag}`}</title>
      <circle cx={tag.x} cy={tag.y} r={small ? DOT : TAG} pointerEvents="all" fill={chosen ? "var(--color-thread)" : "var(--color-card)"} stroke={colour} strokeWidth={1.4} />
      {!small && (
        <text x={tag.x} y={tag.y} textAnchor="middle" dominantBaseline="central" className={`font-heading font-semibold text-[11px] ${chosen ? "fill-card" : "fill-ink"}`}>
          {seam.tag}
        </text>
      )}
    </g>
  );
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
