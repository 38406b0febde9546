import { memo } from "react";
import { type Camera, tiles } from "./camera";
import type { Box } from "./shape";

/** Grid steps in mm; the finest whose lines keep apart is drawn, and every tenth (or fifth) stronger. */
const STEPS = [10, 50, 100, 500, 1000, 5000];

function lines(from: number, to: number, step: number): number[] {
  const found: number[] = [];
  for (let v = Math.ceil(from / step) * step; v <= to; v += step) found.push(v);
  return found;
}

/** mm between the finest lines that are drawn. */
export const ruleStep = (scale: number) => STEPS.find((s) => s * scale >= 14) ?? 0;

/** The ruled paper under the pieces; moving the table only shifts it. */
export const PatternPaper = memo(function PatternPaper({ camera, width, height }: { camera: Camera; width: number; height: number }) {
  const across = tiles(-camera.x, width);
  const down = tiles(-camera.y, height);
  return (
    <g aria-hidden transform={`translate(${camera.x} ${camera.y})`}>
      <Ruled scale={camera.scale} left={across.from} right={across.to} top={down.from} bottom={down.to} />
    </g>
  );
});

/** Lines over a box in px from the table's origin. */
const Ruled = memo(function Ruled({ scale, left, right, top, bottom }: Box & { scale: number }) {
  const fine = STEPS.findIndex((s) => s * scale >= 14);
  const rule = (step: number | undefined, opacity: number) => {
    if (!step) return null;
    const xs = lines(left / scale, right / scale, step).map((v) => v * scale);
    const ys = lines(top / scale, bottom / scale, step).map((v) => v * scale);
    const d = [...xs.map((x) => `M${x} ${top}V${bottom}`), ...ys.map((y) => `M${left} ${y}H${right}`)].join("");
    return <path d={d} stroke="var(--color-edge)" strokeOpacity={opacity} fill="none" shapeRendering="crispEdges" />;
  };
  return (
    <>
      {rule(STEPS[fine], 0.35)}
      {rule(STEPS[fine + 2], 0.9)}
    </>
  );
});
