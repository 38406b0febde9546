import { useQuery } from "@tanstack/react-query";
import { aroundStation, levelsOf, useMeasures } from "../body/measures";
import { get } from "../api/http";
import type { CostumeState, Point } from "../api/types";
import { selectedPiece, useDesk } from "../desk/store";
import { type Camera, toScreen } from "./camera";
import { atStation, type ShownPattern, toTableFrame } from "./shown";

/** Closed loops, mm: to its left and above the floor. */
type Outline = [number, number][][];

/** From the figure to the pieces when none of them is selected, mm. */
const BESIDE = 120;

/** The figure from the front at true scale, under the paper: behind the selected piece where it hangs, else beside all pieces. */
export function Figure({ state, pattern, camera }: { state: CostumeState; pattern: ShownPattern; camera: Camera }) {
  const on = useDesk((s) => s.figureUnder);
  const chosen = useDesk((s) => selectedPiece(s.selection));
  const measures = useMeasures(state.costume.body);
  const outline = useQuery({
    queryKey: ["outline", state.id, state.costume.body],
    queryFn: () => get<Outline>(`/api/costumes/${state.id}/body/outline`),
    enabled: on,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (old) => old,
  });
  if (!on || !outline.data) return null;
  const piece = pattern.pieces.find((p) => p.id === chosen);
  const around = piece?.view.placement ? aroundStation(piece.view.placement.station) : null;
  const level = around?.level ? levelsOf(measures).get(around.level) : undefined;
  const hung = piece && atStation(piece.view);
  // where the point of the floor between the feet lies on the table; a turned piece turns the figure with it
  let floor: Point;
  let angle = 0;
  if (piece && hung && level !== undefined) {
    floor = toTableFrame(piece.view, { x: hung.x, y: hung.y - level });
    angle = piece.view.angle;
  } else {
    const corners = pattern.pieces.flatMap((p) => p.view.outline.map((l) => toTableFrame(p.view, l.from)));
    const reach = Math.max(...outline.data.flat().map((p) => p[0]));
    const least = (k: "x" | "y") => (corners.length > 0 ? Math.min(...corners.map((c) => c[k])) : 0);
    floor = { x: least("x") - BESIDE - reach, y: least("y") };
  }
  const at = toScreen(camera, floor);
  const place = `translate(${at.x} ${at.y}) rotate(${-angle}) scale(${camera.scale} ${-camera.scale})`;
  return (
    <g transform={place}>
      <path d={pathOf(outline.data)} fillRule="evenodd" fill="var(--color-guide)" fillOpacity={0.14} stroke="var(--color-guide)" strokeWidth={1} vectorEffect="non-scaling-stroke" data-figure />
    </g>
  );
}

const made = new WeakMap<Outline, string>();

/** The figure in its own frame, mm; made once, as only its place changes with the camera. */
function pathOf(outline: Outline): string {
  const known = made.get(outline) ?? outline.map((l) => `M${l.map(([x, y]) => `${x} ${y}`).join("L")}Z`).join("");
  made.set(outline, known);
  return known;
}
