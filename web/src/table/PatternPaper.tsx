import { type Camera, toTable } from "./camera";

/** Grid steps in mm; the finest whose lines keep apart is drawn, and every tenth (or fifth) stronger. */
const STEPS = [10, 50, 100, 500, 1000, 5000];

function lines(from: number, to: number, step: number): number[] {
  const found: number[] = [];
  for (let v = Math.ceil(from / step) * step; v <= to; v += step) found.push(v);
  return found;
}

/** mm between the finest lines that are drawn. */
export const ruleStep = (scale: number) => STEPS.find((s) => s * scale >= 14) ?? 0;

/** The ruled paper under the pieces. */
export function PatternPaper({ camera, width, height }: { camera: Camera; width: number; height: number }) {
  const low = toTable(camera, { x: 0, y: height });
  const high = toTable(camera, { x: width, y: 0 });
  const fine = STEPS.findIndex((s) => s * camera.scale >= 14);
  const rule = (step: number | undefined, opacity: number) => {
    if (!step) return null;
    const xs = lines(low.x, high.x, step).map((v) => camera.x + v * camera.scale);
    const ys = lines(low.y, high.y, step).map((v) => camera.y - v * camera.scale);
    const d = [...xs.map((x) => `M${x} 0V${height}`), ...ys.map((y) => `M0 ${y}H${width}`)].join("");
    return <path d={d} stroke="var(--color-edge)" strokeOpacity={opacity} fill="none" shapeRendering="crispEdges" />;
  };
  return (
    <g aria-hidden>
      {rule(STEPS[fine], 0.35)}
      {rule(STEPS[fine + 2], 0.9)}
    </g>
  );
}
