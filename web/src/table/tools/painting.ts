import type { Edit, Point } from "../../api/types";
import { desk, selectedPiece, useDesk } from "../../desk/store";
import { trials } from "../../desk/trial";
import { useDraft } from "../draft";
import { toPieceFrame } from "../shown";
import type { ShownPiece } from "../shown";
import type { Bench, Place, TableTool } from "./bench";

/** Points nearer than this to the last one are left out, px. */
const STEP = 4;

/** Most points of a stroke; fewer than the document takes. */
const MOST = 400;

let way: Point[] = [];
let onto: ShownPiece | undefined;

/** The piece that is painted: the one under the pointer, or the one in hand when the stroke begins beside it. */
const pieceOf = (bench: Bench, place: Place) => place.hit.piece ?? bench.pattern.pieces.find((p) => p.id === selectedPiece(useDesk.getState().selection));

/** What the stroke so far would paint. */
function painted(piece: ShownPiece): Edit | null {
  const { paintKind: kind, brush, brushSoft, brushValue, paintWith } = useDraft.getState();
  const [first, last] = [way[0], way[way.length - 1]];
  if (!first || !last) return null;
  const on = { do: "paint" as const, piece: piece.id, kind };
  if (paintWith === "gradient") return way.length < 2 ? null : { ...on, stroke: { with: "gradient", from: first, to: last, values: [brushValue / 100, 0] } };
  const value = paintWith === "rub-out" ? 0 : brushValue / 100;
  return { ...on, stroke: { with: "brush", points: way, radius: brush, soft: brushSoft / 100, value } };
}

/** A stroke of the brush, or a gradient from where the pointer was pressed to where it is. */
export const paint: TableTool = {
  down: (bench, place) => {
    onto = pieceOf(bench, place);
    way = onto ? [toPieceFrame(onto.view, place.table)] : [];
    if (!onto) return;
    desk.select({ kind: "piece", piece: onto.id });
    const edit = painted(onto);
    if (edit) trials.show(edit);
  },
  move: (bench, place, held) => {
    const last = way[way.length - 1];
    if (!held || !onto || !last) return;
    const at = toPieceFrame(onto.view, place.table);
    if (Math.hypot(at.x - last.x, at.y - last.y) * bench.camera.scale < STEP) return;
    way = [...way, at];
    // a long stroke is told by fewer points
    if (way.length > MOST) way = way.filter((_, k) => k % 2 === 0 || k === way.length - 1);
    const edit = painted(onto);
    if (edit) trials.show(edit);
  },
  up: ({ actions }) => {
    const edit = onto ? painted(onto) : null;
    [way, onto] = [[], undefined];
    if (!edit) return trials.clear();
    actions.edit(edit);
    trials.settle();
  },
};
