import { useMemo } from "react";
import { useDesk } from "../desk/store";
import type { Camera } from "./camera";
import { lineShape } from "./shape";
import type { ShownPattern } from "./shown";

/** A soft edge around the piece under the pointer, over the drawing, which is not touched. */
export function Hovered({ pattern, camera }: { pattern: ShownPattern; camera: Camera }) {
  const hovered = useDesk((s) => s.hovered);
  const piece = pattern.pieces.find((p) => p.id === hovered);
  const path = useMemo(() => (piece ? [piece.view.outline, ...piece.view.cutouts].flat().map((l) => lineShape(piece, l, camera).path).join(" ") : ""), [piece, camera]);
  return path && <path d={path} fill="none" stroke="var(--color-ink)" strokeOpacity={0.2} strokeWidth={6} strokeLinejoin="round" />;
}
