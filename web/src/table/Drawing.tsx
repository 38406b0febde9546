import { memo, useEffect, useMemo, useState } from "react";
import { atOrigin, type Camera } from "./camera";
import { PieceShape } from "./PieceShape";
import { SeamMarks } from "./SeamMarks";
import { lineKey } from "./shape";
import type { ShownPattern } from "./shown";

/** Time without zooming after which everything is drawn at the new scale, ms; until then the old drawing is stretched. */
const SETTLE = 90;

/** All pieces and seams under one transform: moving the table draws nothing again. */
export function Drawing({ pattern, camera }: { pattern: ShownPattern; camera: Camera }) {
  const [scale, setScale] = useState(camera.scale);
  useEffect(() => {
    if (scale === camera.scale) return;
    const timer = window.setTimeout(() => setScale(camera.scale), SETTLE);
    return () => window.clearTimeout(timer);
  }, [scale, camera.scale]);
  return (
    <g transform={`translate(${camera.x} ${camera.y}) scale(${camera.scale / scale})`}>
      <AtScale pattern={pattern} scale={scale} />
    </g>
  );
}

const AtScale = memo(function AtScale({ pattern, scale }: { pattern: ShownPattern; scale: number }) {
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
      {pattern.pieces.map((piece) => (
        <PieceShape key={piece.id} piece={piece} camera={camera} sewn={sewn.get(piece.id) ?? ""} />
      ))}
      <SeamMarks pattern={pattern} camera={camera} />
    </>
  );
});
