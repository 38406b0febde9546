import { Flag, Pause, Play, Repeat, SkipBack, StepBack, StepForward } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import type { FrameReport } from "../api/types";
import { Tip } from "../ui/Tip";
import { causeOf, firstOf, rehearse, useRehearse, useRehearseOf } from "./store";
import { frameName, markOf, STRAINED } from "./words";

const WIDTH = 1000;
const HEIGHT = 44;

/** The frames of the rehearsal on the stand from left to right, each with its mark; drag along it to look at any of them. */
export function TimeLine() {
  const { row, reports, loop, playing } = useRehearseOf("row", "reports", "loop", "playing");
  if (!row) return null;
  const faults = reports.filter((r) => r.cause).length;
  const tool = "flex h-7 items-center gap-1 rounded-md px-1.5 hover:bg-card/10 disabled:opacity-40";
  const empty = row.done === 0;
  return (
    <div className="absolute right-3 bottom-3 left-3 rounded-xl bg-ink p-2 text-card shadow-lg" data-timeline data-done={row.done} data-faults={faults}>
      <div className="mb-1.5 flex items-center gap-0.5" role="toolbar" aria-label="Time line">
        <Tip text={playing ? "Hold this frame" : "Play at its true speed"}>
          <button type="button" data-play disabled={empty} className={tool} onClick={() => rehearse.play(!playing)}>
            {playing ? <Pause size={15} /> : <Play size={15} />} {playing ? "Hold" : "Play"}
          </button>
        </Tip>
        <Tip text="The first frame of the motion">
          <button type="button" aria-label="The first frame of the motion" disabled={empty} className={tool} onClick={() => rehearse.seek(firstOf({ row }))}>
            <SkipBack size={15} />
          </button>
        </Tip>
        <Tip text="One frame back">
          <button type="button" aria-label="One frame back" disabled={empty} className={tool} onClick={() => rehearse.step(-1)}>
            <StepBack size={15} />
          </button>
        </Tip>
        <Tip text="One frame on">
          <button type="button" aria-label="One frame on" disabled={empty} className={tool} onClick={() => rehearse.step(1)}>
            <StepForward size={15} />
          </button>
        </Tip>
        <Tip text="Begin again at the end">
          <button type="button" aria-label="Begin again at the end" aria-pressed={loop} className={`${tool} ${loop ? "bg-card/15" : ""}`} onClick={() => useRehearse.setState({ loop: !loop })}>
            <Repeat size={15} />
          </button>
        </Tip>
        <Tip text="The next frame with a fault">
          <button type="button" data-next-fault disabled={faults === 0} className={tool} onClick={rehearse.nextFault}>
            <Flag size={14} /> <span className="figures">{faults}</span>
          </button>
        </Tip>
        <Where />
      </div>
      <Strip frames={row.frames} leadIn={row.lead_in} motion={row.frames - row.plan.settle} done={row.done} reports={reports} />
    </div>
  );
}

/** Which frame is on the stand, when it is, and what is wrong with it. */
function Where() {
  const { row, reports, causes, frame, playing, rate } = useRehearseOf("row", "reports", "causes", "frame", "playing", "rate");
  if (!row) return null;
  const cause = causeOf({ causes }, reports[frame]);
  const seconds = (frame - row.lead_in) / row.plan.fps;
  return (
    <span className="ml-auto flex min-w-0 items-center gap-3 pr-1" data-frame={frame}>
      {cause && <span className="truncate text-tape">{cause.why}</span>}
      {playing && <span className="figures shrink-0 opacity-70">{rate} / s</span>}
      <span className="figures shrink-0">
        {frameName(frame, row.lead_in)} · {seconds.toFixed(2)} s
      </span>
    </span>
  );
}

interface StripProps {
  frames: number;
  leadIn: number;
  /** The first frame of the settling. */
  motion: number;
  done: number;
  reports: FrameReport[];
}

function Strip({ frames, leadIn, motion, done, reports }: StripProps) {
  const strip = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState(false);
  const at = (e: Pick<PointerEvent, "clientX">) => {
    const box = strip.current?.getBoundingClientRect();
    if (box) rehearse.seek(Math.floor(((e.clientX - box.left) / Math.max(1, box.width)) * frames));
  };
  useEffect(() => {
    if (!held) return;
    // wherever the pointer goes until it is let go
    const ends = new AbortController();
    const drop = () => setHeld(false);
    window.addEventListener("pointermove", at, { signal: ends.signal });
    window.addEventListener("pointerup", drop, { signal: ends.signal });
    window.addEventListener("pointercancel", drop, { signal: ends.signal });
    return () => ends.abort();
  });
  const keys: Record<string, () => void> = {
    ArrowLeft: () => rehearse.step(-1),
    ArrowRight: () => rehearse.step(1),
    PageUp: () => rehearse.step(-10),
    PageDown: () => rehearse.step(10),
    Home: () => rehearse.seek(0),
    End: () => rehearse.seek(done - 1),
  };
  const frame = useRehearse((s) => s.frame);
  return (
    <div
      ref={strip}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={0}
      aria-valuemax={Math.max(0, done - 1)}
      aria-valuenow={frame}
      aria-valuetext={frameName(frame, leadIn)}
      data-strip
      className="relative cursor-ew-resize touch-none select-none overflow-hidden rounded-md"
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        setHeld(true);
        at(e);
      }}
      onKeyDown={(e) => {
        const key = keys[e.key];
        if (!key) return;
        key();
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <Marks frames={frames} leadIn={leadIn} motion={motion} done={done} reports={reports} />
      <div className="-translate-x-1/2 pointer-events-none absolute inset-y-0 w-[2px] bg-thread" style={{ left: `${(100 * (frame + 0.5)) / Math.max(1, frames)}%` }} />
    </div>
  );
}

const TONES = { fault: "fill-brick", open: "fill-axis-x", strained: "fill-amber", slips: "fill-hand" } as const;

/** Lead-in, motion and settling; the frames that are stored, their strain as a line, their marks as bars. */
const Marks = memo(function Marks({ frames, leadIn, motion, done, reports }: StripProps) {
  const x = (frame: number) => (WIDTH * frame) / Math.max(1, frames);
  const strain = (r: FrameReport) => HEIGHT - 4 - Math.min(1, r.strain_p99 / (2 * STRAINED)) * (HEIGHT - 16);
  const line = reports.map((r, k) => `${k === 0 ? "M" : "L"}${x(k + 0.5).toFixed(1)} ${strain(r).toFixed(1)}`).join("");
  const marked = reports.flatMap((r, k) => {
    const mark = markOf(r);
    return mark ? [{ k, mark }] : [];
  });
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="none" className="block h-[44px] w-full" aria-hidden="true">
      <rect width={WIDTH} height={HEIGHT} className="fill-ink-soft" />
      <rect width={x(done)} height={HEIGHT} className="fill-sheet" />
      <rect width={x(Math.min(done, leadIn))} height={HEIGHT} className="fill-edge" />
      <rect x={x(Math.min(done, motion))} width={x(Math.max(0, done - motion))} height={HEIGHT} className="fill-edge" />
      {marked.map(({ k, mark }) => (
        <rect key={k} x={x(k)} width={Math.max(2, x(1))} y={mark === "fault" ? 0 : HEIGHT - 14} height={mark === "fault" ? HEIGHT : 14} className={TONES[mark]} data-mark={mark} data-at={k} />
      ))}
      <path d={line} className="fill-none stroke-ink" strokeWidth={1.5} vectorEffect="non-scaling-stroke" />
      {[leadIn, motion].map((frame) => (
        <line key={frame} x1={x(frame)} x2={x(frame)} y1={0} y2={HEIGHT} className="stroke-line" vectorEffect="non-scaling-stroke" />
      ))}
    </svg>
  );
});
