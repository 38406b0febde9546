import { memo, type PointerEvent, useEffect, useRef, useState } from "react";
import { useDesk, usePointer } from "../desk/store";
import { format, type Unit } from "../ui/units";
import { type Camera, tiles, toScreen, toTable } from "./camera";
import { guides, useGuides } from "./guides";

/** Width of a ruler, px. */
export const RULER = 20;

/** mm between numbers, so that they keep apart. */
const STEPS = [10, 50, 100, 200, 500, 1000, 2000, 5000];

/** A guide under the pointer: a new one, or one that was there. */
interface Held {
  level: boolean;
  index: number | null;
  at: number | null;
}

interface Props {
  camera: Camera;
  width: number;
  height: number;
}

/** Rulers along the paper; a guide is drawn out of them, and put back to be rid of it. */
export const Rulers = memo(function Rulers({ camera, width, height }: Props) {
  const unit = useDesk((s) => s.unit);
  const { all } = useGuides();
  const svg = useRef<SVGSVGElement>(null);
  const [held, show] = useState<Held | null>(null);
  // what the pointer did last counts, also before it is drawn
  const now = useRef<Held | null>(null);
  const setHeld = (next: Held | null) => {
    now.current = next;
    show(next);
  };
  const per = unit === "cm" ? 1 : 2.54;
  const step = (STEPS.find((s) => s * per * camera.scale >= 46) ?? 5000) * per;
  const [px, py] = [(x: number) => camera.x + x * camera.scale, (y: number) => camera.y - y * camera.scale];

  const place = (e: { clientX: number; clientY: number }, level: boolean): number | null => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return null;
    const p = { x: e.clientX - box.left, y: e.clientY - box.top };
    if ((level ? p.y : p.x) < RULER) return null;
    const t = toTable(camera, p);
    return Math.round((level ? t.y : t.x) * 10) / 10;
  };
  // the whole window hears the drag: a guide that is taken hold of is drawn anew, and would lose the pointer
  const begin = (e: PointerEvent, level: boolean, index: number | null) => {
    e.preventDefault();
    setHeld({ level, index, at: index === null ? null : (all[index]?.at ?? null) });
    const over = new AbortController();
    const { signal } = over;
    const done = (keep: boolean) => {
      over.abort();
      if (keep) end();
      else setHeld(null);
    };
    window.addEventListener("pointermove", (m) => m.pointerId === e.pointerId && move(m), { signal, capture: true });
    window.addEventListener("pointerup", (u) => u.pointerId === e.pointerId && done(true), { signal, capture: true });
    window.addEventListener("pointercancel", () => done(false), { signal, capture: true });
  };
  const end = () => {
    const last = now.current;
    if (!last) return;
    const rest = useGuides.getState().all.filter((_, k) => k !== last.index);
    guides.set(last.at === null ? rest : [...rest, { level: last.level, at: last.at }]);
    setHeld(null);
  };
  const move = (e: { clientX: number; clientY: number }) => now.current && setHeld({ ...now.current, at: place(e, now.current.level) });
  const shown = held && held.at !== null ? [...all.filter((_, k) => k !== held.index), { level: held.level, at: held.at }] : all;
  const drags = (level: boolean, index: number | null) => ({ onPointerDown: (e: PointerEvent) => begin(e, level, index) });
  return (
    <>
    <svg ref={svg} width={width} height={height} className="pointer-events-none absolute inset-0" data-rulers aria-hidden>
      {shown.map((g, k) => (
        <g key={`${k}`} data-guide={g.at}>
          <path d={g.level ? `M0 ${py(g.at)}H${width}` : `M${px(g.at)} 0V${height}`} stroke="var(--color-guide)" strokeWidth={1} />
          {!held && <path d={g.level ? `M0 ${py(g.at)}H${RULER + 14}` : `M${px(g.at)} 0V${RULER + 14}`} stroke="transparent" strokeWidth={11} className={`pointer-events-auto ${g.level ? "cursor-ns-resize" : "cursor-ew-resize"}`} {...drags(g.level, k)} />}
        </g>
      ))}
      {held && held.at !== null && (
        <text x={held.level ? RULER + 8 : px(held.at) + 6} y={held.level ? py(held.at) - 6 : RULER + 14} className="figures fill-ink" paintOrder="stroke" stroke="var(--color-sheet)" strokeWidth={3}>
          {format(held.at, unit)}
        </text>
      )}
      <rect width={width} height={RULER} fill="var(--color-tape)" className="pointer-events-auto cursor-ns-resize" {...drags(true, null)} data-ruler="top" />
      <rect width={RULER} height={height} fill="var(--color-tape)" className="pointer-events-auto cursor-ew-resize" {...drags(false, null)} data-ruler="left" />
      <g className="figures fill-ink text-[11px]" stroke="none">
        <g transform={`translate(${camera.x} 0)`}>
          <Ticks step={step} scale={camera.scale} unit={unit} {...tiles(-camera.x, width)} />
        </g>
        <g transform={`translate(0 ${camera.y}) rotate(-90)`}>
          <Ticks step={step} scale={camera.scale} unit={unit} {...tiles(camera.y - height, height)} />
        </g>
      </g>
      <rect width={RULER} height={RULER} fill="var(--color-tape)" />
    </svg>
    <PointerMarks camera={camera} />
    </>
  );
});

interface TicksProps {
  /** mm between numbers. */
  step: number;
  scale: number;
  unit: Unit;
  /** The stretch in px from the table's origin. */
  from: number;
  to: number;
}

/** Ticks and numbers of a ruler that begins at the table's origin: moving the table only shifts them. */
const Ticks = memo(function Ticks({ step, scale, unit, from, to }: TicksProps) {
  const found: number[] = [];
  for (let v = Math.ceil(from / scale / step) * step; v <= to / scale; v += step) found.push(v);
  return (
    <>
      <path d={found.map((v) => `M${v * scale} ${RULER}v-6`).join("")} stroke="var(--color-ink)" />
      {found.map((v) => (
        <text key={v} x={v * scale + 3} y={12}>
          {format(v, unit, false).replace(/\.0+$/, "")}
        </text>
      ))}
    </>
  );
});

/** Where the pointer is along both rulers; it is moved without drawing anything again. */
function PointerMarks({ camera }: { camera: Camera }) {
  const across = useRef<HTMLDivElement>(null);
  const up = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const follow = () => {
      const pointer = usePointer.getState().at;
      const at = pointer && toScreen(camera, pointer);
      if (across.current) across.current.style.transform = `translateX(${at ? at.x : -9}px)`;
      if (up.current) up.current.style.transform = `translateY(${at ? at.y : -9}px)`;
    };
    follow();
    return usePointer.subscribe(follow);
  }, [camera]);
  const mark = "pointer-events-none absolute top-0 left-0 bg-thread will-change-transform";
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden [contain:strict]" aria-hidden>
      <div ref={across} className={`${mark} w-[1.5px]`} style={{ height: RULER }} />
      <div ref={up} className={`${mark} h-[1.5px]`} style={{ width: RULER }} />
    </div>
  );
}

/** Guides of the costume that is opened. */
export function useGuidesOf(costume: number) {
  useEffect(() => guides.open(costume), [costume]);
}
