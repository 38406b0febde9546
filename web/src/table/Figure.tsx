import { useQuery } from "@tanstack/react-query";
import { aroundStation, levelsOf, useMeasures } from "../body/measures";
import { get } from "../api/http";
import type { CostumeState, Point } from "../api/types";
import { selectedPiece, useDesk } from "../desk/store";
import { type Camera, toScreen } from "./camera";
import { type ShownPattern, toTableFrame } from "./shown";

/** From the figure to the pieces when none of them is selected, mm. */
const BESIDE = 120;

/** The figure from the front at true scale, under the paper: behind the selected piece where it hangs, else beside all pieces. */
export function Figure({ state, pattern, camera }: { state: CostumeState; pattern: ShownPattern; camera: Camera }) {
  const on = useDesk((s) => s.figureUnder);
  const chosen = useDesk((s) => selectedPiece(s.selection));
  const measures = useMeasures(state.costume.body);
  const outline = useQuery({
    queryKey: ["outline", state.id, state.costume.body],
    queryFn: () => get<[number, number][][]>(`/api/costumes/${state.id}/body/outline`),
    enabled: on,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (old) => old,
  });
  if (!on || !outline.data) return null;
  const piece = pattern.pieces.find((p) => p.id === chosen);
  const at = piece?.view.placement;
  const around = at ? aroundStation(at.station) : null;
  const level = around?.level ? levelsOf(measures).get(around.level) : undefined;
  // from the figure's own frame (mm above the floor, its left to the right as it is seen) to the table
  let place: (p: [number, number]) => Point;
  if (piece && at && level !== undefined) {
    const box = piece.view.outline.map((l) => l.from);
    const middle = (k: "x" | "y") => (Math.min(...box.map((p) => p[k])) + Math.max(...box.map((p) => p[k]))) / 2;
    const [x, y] = [middle("x") - at.shift.x, middle("y") - at.shift.y];
    place = ([u, v]) => toTableFrame(piece.view, { x: x + u, y: y + v - level });
  } else {
    const corners = pattern.pieces.flatMap((p) => p.view.outline.map((l) => toTableFrame(p.view, l.from)));
    const [reach, low] = [Math.max(...outline.data.flat().map((p) => p[0])), corners.length > 0 ? Math.min(...corners.map((c) => c.y)) : 0];
    const right = (corners.length > 0 ? Math.min(...corners.map((c) => c.x)) : 0) - BESIDE - reach;
    place = ([u, v]) => ({ x: right + u, y: low + v });
  }
  const path = outline.data.map((l) => `M${l.map((p) => toScreen(camera, place(p))).map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("L")}Z`).join("");
  return <path d={path} fillRule="evenodd" fill="var(--color-guide)" fillOpacity={0.14} stroke="var(--color-guide)" strokeWidth={1} data-figure />;
}
