import { type PointerEvent, useEffect, useState } from "react";
import { useDesk } from "../desk/store";
import { format } from "../ui/units";
import { type Camera, toTable } from "./camera";
import { guides, useGuides } from "./guides";

/** Width of a ruler, px. */
export const RULER = 20;

/** mm between numbers, so that they keep apart. */
const STEPS = [10, 50, 100, 200, 500, 1000, 2000, 5000];

interface Props {
  camera: Camera;
  width: number;
  height: number;
}

/** Rulers along the paper; a guide is drawn out of them, and put back to be rid of it. */
export function Rulers({ camera, width, height }: Props) {
  const unit = useDesk((s) => s.unit);
  const pointer = useDesk((s) => s.pointer);
  const { all } = useGuides();
  const [held, setHeld] = useState<{ level: boolean; index: number | null; at: number | null } | null>(null);
  const per = unit === "cm" ? 1 : 2.54;
  const step = (STEPS.find((s) => s * per * camera.scale >= 46) ?? 5000) * per;
  const ticks = (from: number, to: number) => {
    const found: number[] = [];
    for (let v = Math.ceil(from / step) * step; v <= to; v += step) found.push(v);
    return found;
  };
  const low = toTable(camera, { x: 0, y: height });
  const high = toTable(camera, { x: width, y: 0 });
  const [px, py] = [(x: number) => camera.x + x * camera.scale, (y: number) => camera.y - y * camera.scale];
  const number = (v: number) => format(v, unit, false).replace(/\.0+$/, "");

  const place = (e: PointerEvent, level: boolean): number | null => {
    const box = (e.currentTarget as Element).closest("[data-rulers]")?.getBoundingClientRect();
    if (!box) return null;
    const p = { x: e.clientX - box.left, y: e.clientY - box.top };
    if ((level ? p.y : p.x) < RULER) return null;
    const t = toTable(camera, p);
    return Math.round((level ? t.y : t.x) * 10) / 10;
  };
  const begin = (e: PointerEvent, level: boolean, index: number | null) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    setHeld({ level, index, at: index === null ? null : (all[index]?.at ?? null) });
  };
  const end = () => {
    if (!held) return;
    const rest = all.filter((_, k) => k !== held.index);
    guides.set(held.at === null ? rest : [...rest, { level: held.level, at: held.at }]);
    setHeld(null);
  };
  const move = (e: PointerEvent) => held && setHeld({ ...held, at: place(e, held.level) });
  const shown = held && held.at !== null ? [...all.filter((_, k) => k !== held.index), { level: held.level, at: held.at }] : all;
  const drags = (level: boolean, index: number | null) => ({
    onPointerDown: (e: PointerEvent) => begin(e, level, index),
    onPointerMove: move,
    onPointerUp: end,
    onPointerCancel: () => setHeld(null),
  });
  return (
    <svg width={width} height={height} className="pointer-events-none absolute inset-0" data-rulers aria-hidden>
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
        {ticks(low.x, high.x).map((v) => (
          <g key={v} transform={`translate(${px(v)} 0)`}>
            <path d={`M0 ${RULER}V${RULER - 6}`} stroke="var(--color-ink)" />
            <text x={3} y={12}>
              {number(v)}
            </text>
          </g>
        ))}
        {ticks(low.y, high.y).map((v) => (
          <g key={v} transform={`translate(0 ${py(v)})`}>
            <path d={`M${RULER} 0H${RULER - 6}`} stroke="var(--color-ink)" />
            <text transform="translate(12 -3) rotate(-90)">{number(v)}</text>
          </g>
        ))}
      </g>
      {pointer && <path d={`M${px(pointer.x)} 0V${RULER}M0 ${py(pointer.y)}H${RULER}`} stroke="var(--color-thread)" strokeWidth={1.5} />}
      <rect width={RULER} height={RULER} fill="var(--color-tape)" />
    </svg>
  );
}

/** Guides of the costume that is opened. */
export function useGuidesOf(costume: number) {
  useEffect(() => guides.open(costume), [costume]);
}
