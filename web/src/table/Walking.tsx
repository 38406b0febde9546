import type { PieceView } from "../api/types";
import { type Camera, toScreen } from "./camera";
import { clothPath } from "./shape";
import type { ShownPattern, ShownPiece } from "./shown";
import { useWalking } from "./walking";

/** The piece of side b where it lies as it is walked along side a. */
export function Walking({ pattern, camera }: { pattern: ShownPattern; camera: Camera }) {
  const { walked } = useWalking();
  const piece = walked && pattern.pieces.find((p) => p.id === walked.piece);
  if (!walked || !piece) return null;
  const view: PieceView = { ...piece.view, at: walked.at, angle: walked.angle };
  const ghost: ShownPiece = { ...piece, view };
  const touch = toScreen(camera, walked.touch);
  return (
    <g pointerEvents="none" data-walking={walked.walked.toFixed(1)}>
      <path d={clothPath(ghost, camera)} fill="var(--color-thread)" fillOpacity={0.1} fillRule="evenodd" stroke="var(--color-thread)" strokeWidth={1.6} />
      <circle cx={touch.x} cy={touch.y} r={5} fill="var(--color-thread)" stroke="var(--color-card)" strokeWidth={1.5} />
    </g>
  );
}
