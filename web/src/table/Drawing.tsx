import { memo, type ReactNode, useEffect, useMemo, useState } from "react";
import { selectedPiece, selectedPieces, useDesk } from "../desk/store";
import { atOrigin, type Camera, TILE } from "./camera";
import { PieceShape } from "./PieceShape";
import { SeamMarks } from "./SeamMarks";
import { type Box, drawn, lineKey, meet } from "./shape";
import type { ShownPattern, ShownPiece } from "./shown";

/** Time without zooming after which everything is drawn at the new scale, ms; until then the old drawing is stretched. */
const SETTLE = 90;

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
      <AtScale pattern={pattern} scale={scale} left={low(camera.x)} right={high(camera.x, width)} top={low(camera.y)} bottom={high(camera.y, height)} />
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
    for (const run of pattern.sewn.flatMap((s) => [...s.runs_a, ...s.runs_b])) {
      const keys = lines.get(run.piece) ?? new Set();
      lines.set(run.piece, keys.add(lineKey(run.line, run.image)));
    }
    return new Map([...lines].map(([piece, keys]) => [piece, [...keys].join(" ")]));
  }, [pattern.sewn]);
  const chosen = useDesk((s) => [selectedPiece(s.selection), ...selectedPieces(s)].join(" "));
  const inHand = new Set(chosen.split(" ").map(Number));
  const seen = pattern.pieces.filter((piece) => meet(drawn(piece, camera).box, { left, right, top, bottom }));
  return (
    <>
      <Sheet>
        <Shapes pieces={seen.filter((p) => !inHand.has(p.id))} camera={camera} sewn={sewn} />
      </Sheet>
      <Sheet>
        <Shapes pieces={seen.filter((p) => inHand.has(p.id))} camera={camera} sewn={sewn} />
      </Sheet>
      <Sheet>
        <SeamMarks pattern={pattern} camera={camera} />
      </Sheet>
    </>
  );
});

interface ShapesProps {
  pieces: ShownPiece[];
  camera: Camera;
  sewn: Map<number, string>;
}

/** Some pieces; nobody looks at them again as long as they are the same. */
const Shapes = memo(
  function Shapes({ pieces, camera, sewn }: ShapesProps) {
    return pieces.map((piece) => <PieceShape key={piece.id} piece={piece} camera={camera} sewn={sewn.get(piece.id) ?? ""} />);
  },
  (a, b) => a.camera === b.camera && a.sewn === b.sewn && a.pieces.length === b.pieces.length && a.pieces.every((p, k) => p === b.pieces[k]),
);

/** Pieces in hand lie over the others, seams over all; what changes on one sheet is painted again without the rest. */
function Sheet({ children }: { children: ReactNode }) {
  return (
    <svg width={1} height={1} className="pointer-events-none absolute top-0 left-0 isolate block overflow-visible">
      <g pointerEvents="auto">{children}</g>
    </svg>
  );
}
