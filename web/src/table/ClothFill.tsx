import { memo, useId } from "react";
import { printAddress, printTile, printTurn } from "../api/prints";
import type { Fabric } from "../api/types";
import { type Camera, toScreen } from "./camera";
import { type ShownPiece, toTableFrame } from "./shown";

/** A piece filled with its fabric, with what is printed on it as it will be cut. */
export const ClothFill = memo(function ClothFill({ piece, fabric, camera, cloth }: { piece: ShownPiece; fabric: Fabric; camera: Camera; cloth: string }) {
  const id = useId();
  const [{ print }, address] = [fabric, printAddress(fabric)];
  if (!print || !address) return <path d={cloth} fill={fabric.colour} fillRule="evenodd" fillOpacity={0.55} pointerEvents="none" />;
  const place = piece.doc.print_at;
  const [width, height] = printTile(print).map((mm) => mm * camera.scale) as [number, number];
  const at = toScreen(camera, toTableFrame(piece.view, place?.at ?? { x: 0, y: 0 }));
  // on screen y points down
  const turn = -(printTurn(print, piece.doc.grain, place) + piece.view.angle);
  const image = (x: number, y: number) => <image href={address} x={x} y={y} width={width} height={height} preserveAspectRatio="none" />;
  return (
    <g pointerEvents="none" data-printed={print.motif}>
      <path d={cloth} fill={fabric.colour} fillRule="evenodd" fillOpacity={0.55} />
      {print.once ? (
        <>
          <clipPath id={id}>
            <path d={cloth} clipRule="evenodd" />
          </clipPath>
          <g clipPath={`url(#${id})`} opacity={0.75}>
            <g transform={`translate(${at.x} ${at.y}) rotate(${turn})`}>{image(-width / 2, -height / 2)}</g>
          </g>
        </>
      ) : (
        <>
          <pattern id={id} patternUnits="userSpaceOnUse" width={width} height={height} patternTransform={`translate(${at.x} ${at.y}) rotate(${turn})`}>
            {image(0, 0)}
          </pattern>
          <path d={cloth} fill={`url(#${id})`} fillRule="evenodd" fillOpacity={0.75} />
        </>
      )}
    </g>
  );
});
