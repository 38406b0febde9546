import { useMemo } from "react";
import { useDesk } from "../desk/store";
import { atOrigin, type Camera } from "./camera";
import { lineShape } from "./shape";
import type { ShownPattern } from "./shown";

/** A soft edge around the piece under the pointer, over the drawing, which is not touched. */
export function Hovered({ pattern, camera }: { pattern: ShownPattern; camera: Camera }) {
  const hovered = useDesk((s) => s.hovered);
  const piece = pattern.pieces.find((p) => p.id === hovered);
  const { scale } = camera;
  const path = useMemo(() => {
    if (!piece) return "";
    const origin = atOrigin(scale);
    return [piece.view.outline, ...piece.view.cutouts].flat().map((l) => lineShape(piece, l, origin).path).join(" ");
  }, [piece, scale]);
  return path && <path d={path} transform={`translate(${camera.x} ${camera.y})`} fill="none" stroke="var(--color-ink)" strokeOpacity={0.2} strokeWidth={6} strokeLinejoin="round" />;
}
