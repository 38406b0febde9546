import { memo, useId } from "react";
import type { PaintKind, PaintView, Point } from "../api/types";
import { useDesk } from "../desk/store";
import { type Camera, toScreen } from "./camera";
import { useDraft } from "./draft";
import { type ShownPiece, toTableFrame } from "./shown";

/** The colour of each map. */
const COLOURS: Record<PaintKind, string> = { skin: "var(--color-thread)", grip: "var(--color-moss)", carried: "var(--color-amber)" };

const kindOf = (purpose: PaintView["purpose"]): PaintKind => ("skin" in purpose ? "skin" : "grip" in purpose ? "grip" : "carried");

/** What is painted on a piece, each map in a colour of its own; strong while it is being painted. */
export const Painted = memo(function Painted({ piece, camera, cloth }: { piece: ShownPiece; camera: Camera; cloth: string }) {
  const painting = useDesk((s) => s.tool === "paint");
  const kind = useDraft((s) => s.paintKind);
  return piece.view.paint.map((p, k) => {
    const own = kindOf(p.purpose);
    return <Coat key={`${own} ${k}`} paint={p} piece={piece} camera={camera} cloth={cloth} colour={COLOURS[own]} strength={!painting ? 0.34 : own === kind ? 0.62 : 0.12} />;
  });
});

interface CoatProps {
  paint: PaintView;
  piece: ShownPiece;
  camera: Camera;
  cloth: string;
  colour: string;
  strength: number;
}

/** One map as a tint that is as strong as it is painted. */
function Coat({ paint, piece, camera, cloth, colour, strength }: CoatProps) {
  const id = useId();
  const at = (x: number, y: number): Point => {
    const own = { x: paint.at.x + paint.across.x * x + paint.tall.x * y, y: paint.at.y + paint.across.y * x + paint.tall.y * y };
    return toScreen(camera, toTableFrame(piece.view, own));
  };
  // the picture has its first row above
  const [corner, right, down] = [at(0, 1), at(1, 1), at(0, 0)];
  const matrix = `matrix(${right.x - corner.x} ${right.y - corner.y} ${down.x - corner.x} ${down.y - corner.y} ${corner.x} ${corner.y})`;
  return (
    <g pointerEvents="none" data-painted={kindOf(paint.purpose)}>
      <mask id={id} maskUnits="userSpaceOnUse" x={-1e5} y={-1e5} width={2e5} height={2e5}>
        <image href={`data:image/png;base64,${paint.image}`} width={1} height={1} preserveAspectRatio="none" transform={matrix} />
      </mask>
      <path d={cloth} fill={colour} fillRule="evenodd" fillOpacity={strength} stroke="none" mask={`url(#${id})`} />
    </g>
  );
}
