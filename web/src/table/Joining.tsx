import { useEffect } from "react";
import type { Point, Run, RunView, SeamView } from "../api/types";
import { useDesk } from "../desk/store";
import { useTrial } from "../desk/trial";
import { formatSigned } from "../ui/units";
import type { Camera } from "./camera";
import { documentRun, hearDirected, useJoining } from "./joining";
import { type LineShape, lineKey, lineShapes, stretchPath, pointAtShare } from "./shape";
import { useWalking } from "./walking";
import { newSeams, type ShownPattern } from "./shown";

interface Props {
  pattern: ShownPattern;
  camera: Camera;
}

/** Most threads that are drawn between the sides of a seam, and px between two of them. */
const THREADS = 12;
const APART = 14;

/** The seam that is being put together: both sides, and threads from place to place with the difference. */
export function Joining({ pattern, camera }: Props) {
  const { a, b, side, drawn } = useJoining();
  const trial = useTrial((s) => s.pattern);
  const chosen = useDesk((s) => (s.selection?.kind === "seam" && s.stage === "join" ? s.selection.seam : null));
  const active = a.length > 0;
  const made = active ? newSeams(trial?.seams, pattern.seams) : [];
  const first = made.find((s) => !s.image);
  const told = JSON.stringify(first ? [first.runs_a, first.runs_b] : null);
  useEffect(() => {
    const runs = JSON.parse(told) as [RunView[], RunView[]] | null;
    const own = (all: RunView[]) => all.flatMap((r) => documentRun(pattern, r) ?? []);
    hearDirected(runs && { a: own(runs[0]), b: own(runs[1]) });
  }, [told, pattern]);
  const shapes = (piece: number) => {
    const p = pattern.pieces.find((q) => q.id === piece);
    return p ? lineShapes(p, camera) : [];
  };
  const shape = (run: { piece: number; line: number; image?: boolean }) => shapes(run.piece).find((e) => e.key === lineKey(run.line, run.image ?? false));
  const mark = (run: Run, key: string, colour: string, width: number) => {
    const edge = shape(run);
    if (!edge) return null;
    const [from, to] = [run.from ?? 0, run.to ?? 1];
    const d = stretchPath(edge, edge.view.turned ? 1 - from : from, edge.view.turned ? 1 - to : to);
    return <path key={key} d={d} fill="none" stroke={colour} strokeWidth={width} strokeLinecap="round" />;
  };
  // where its edges are walked there is something better to be seen than threads
  const walked = useWalking((s) => s.seam);
  const seams = made.length > 0 ? made : pattern.seams.filter((s) => s.seam === chosen && s.seam !== walked);
  return (
    <g pointerEvents="none" data-joining={a.length + b.length} data-side={side}>
      {a.map((r, k) => mark(r, `a${k}`, "var(--color-thread)", 4.5))}
      {b.map((r, k) => mark(r, `b${k}`, "var(--color-ink)", 4.5))}
      {drawn && mark(drawn, "drawn", "var(--color-thread)", 6)}
      {seams.map((s) => (
        <Threads key={`${s.seam}${s.image}`} seam={s} shape={shape} />
      ))}
      {seams.filter((s) => !s.image).map((s) => (
        <Told key={s.seam} seam={s} shape={shape} />
      ))}
    </g>
  );
}

/** Places at equal shares of a side. */
function along(runs: RunView[], shape: (run: RunView) => LineShape | undefined, count: number): Point[] {
  const parts = runs.flatMap((run) => {
    const edge = shape(run);
    return edge ? [{ run, edge, length: edge.view.length * Math.abs(run.to - run.from) }] : [];
  });
  const whole = parts.reduce((sum, p) => sum + p.length, 0);
  return Array.from({ length: count }, (_, k) => {
    let left = ((k + 0.5) / count) * whole;
    for (const p of parts) {
      if (left <= p.length) return pointAtShare(p.edge, p.run.from + ((p.run.to - p.run.from) * left) / p.length);
      left -= p.length;
    }
    const last = parts[parts.length - 1];
    return last ? pointAtShare(last.edge, last.run.to) : { x: 0, y: 0 };
  });
}

const span = (e: LineShape | undefined) => (e ? Math.hypot(e.to.x - e.from.x, e.to.y - e.from.y) : 0);

function Threads({ seam, shape }: { seam: SeamView; shape: (run: RunView) => LineShape | undefined }) {
  const long = Math.max(...[seam.runs_a, seam.runs_b].map((runs) => runs.reduce((sum, r) => sum + span(shape(r)) * Math.abs(r.to - r.from), 0)));
  const count = Math.min(THREADS, Math.max(3, Math.round(long / APART)));
  const [a, b] = [along(seam.runs_a, shape, count), along(seam.runs_b, shape, count)];
  return (
    <g data-threads={seam.seam}>
      {a.map((p, k) => {
        const q = b[k];
        return q && <path key={`${k}`} d={`M${p.x} ${p.y}L${q.x} ${q.y}`} stroke="var(--color-thread)" strokeWidth={k === 0 ? 1.6 : 0.9} strokeOpacity={seam.image ? 0.4 : 0.85} />;
      })}
      {a[0] && <circle cx={a[0].x} cy={a[0].y} r={3.4} fill="var(--color-thread)" />}
      {b[0] && <circle cx={b[0].x} cy={b[0].y} r={3.4} fill="var(--color-thread)" />}
    </g>
  );
}

/** What the sides differ by, beside the threads. */
function Told({ seam, shape }: { seam: SeamView; shape: (run: RunView) => LineShape | undefined }) {
  const unit = useDesk((s) => s.unit);
  const [p, q] = [along(seam.runs_a, shape, 1)[0], along(seam.runs_b, shape, 1)[0]];
  if (!p || !q) return null;
  return (
    <g transform={`translate(${(p.x + q.x) / 2} ${(p.y + q.y) / 2})`}>
      <rect x={-70} y={-13} width={140} height={26} rx={5} fill="var(--color-card)" stroke="var(--color-thread)" />
      <text textAnchor="middle" dominantBaseline="central" className={`figures ${seam.good ? "fill-ink" : "fill-amber"}`}>
        {formatSigned(seam.b - seam.a, unit)} · {seam.kind}
      </text>
    </g>
  );
}
