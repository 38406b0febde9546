import { memo, useEffect, useMemo, useState } from "react";
import { atOrigin, type Camera } from "./camera";
import { PieceShape } from "./PieceShape";
import { SeamMarks } from "./SeamMarks";
import { type Box, drawn, lineKey, meet } from "./shape";
import type { ShownPattern } from "./shown";

/** Time without zooming after which everything is drawn at the new scale, ms; until then the old drawing is stretched. */
const SETTLE = 90;

/** Steps in which the part of the table that is drawn follows the window, px. */
const TILE = 512;

interface Props {
  pattern: ShownPattern;
  camera: Camera;
  /** Of the window onto the table, px. */
  width: number;
  height: number;
}

/** All pieces and seams in a layer under one transform: moving the table draws nothing again but what comes into sight. */
export function Drawing({ pattern, camera, width, height }: Props) {
  const [scale, setScale] = useState(camera.scale);
  useEffect(() => {
    if (scale === camera.scale) return;
    const timer = window.setTimeout(() => setScale(camera.scale), SETTLE);
    return () => window.clearTimeout(timer);
  }, [scale, camera.scale]);
  const stretched = camera.scale / scale;
  const low = (v: number) => (Math.floor(-v / stretched / TILE) - 1) * TILE;
  const high = (v: number, size: number) => (Math.ceil((size - v) / stretched / TILE) + 1) * TILE;
  return (
    <div className="absolute top-0 left-0 h-0 w-0 origin-top-left will-change-transform" style={{ transform: `translate(${camera.x}px, ${camera.y}px) scale(${stretched})` }}>
      <svg width={1} height={1} className="pointer-events-none block overflow-visible">
        <g pointerEvents="auto">
          <AtScale pattern={pattern} scale={scale} left={low(camera.x)} right={high(camera.x, width)} top={low(camera.y)} bottom={high(camera.y, height)} />
        </g>
      </svg>
    </div>
  );
}

interface AtScaleProps extends Box {
  pattern: ShownPattern;
  scale: number;
}

const AtScale = memo(function AtScale({ pattern, scale, left, right, top, bottom }: AtScaleProps) {
  const camera = useMemo(() => atOrigin(scale), [scale]);
  // keys of the lines of each piece that carry a seam, as text, which stays the same as long as it says the same
  const sewn = useMemo(() => {
    const lines = new Map<number, Set<string>>();
    for (const run of pattern.seams.flatMap((s) => [...s.runs_a, ...s.runs_b])) {
      const keys = lines.get(run.piece) ?? new Set();
      lines.set(run.piece, keys.add(lineKey(run.line, run.image)));
    }
    return new Map([...lines].map(([piece, keys]) => [piece, [...keys].join(" ")]));
  }, [pattern.seams]);
  return (
    <>
      {pattern.pieces.filter((piece) => meet(drawn(piece, camera).box, { left, right, top, bottom })).map((piece) => (
        <PieceShape key={piece.id} piece={piece} camera={camera} sewn={sewn.get(piece.id) ?? ""} />
      ))}
      <SeamMarks pattern={pattern} camera={camera} />
    </>
  );
});
