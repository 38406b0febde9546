import type { Anchor, Edit, Spot } from "../../api/types";
import { desk, useDesk } from "../../desk/store";
import { notify } from "../../ui/notices";
import { purposeOf, useDraft } from "../draft";
import { type Begin, sketch, useSketch } from "../sketch";
import { type Bench, inPiece, type Place, spotUnder, type TableTool } from "./bench";

/** The next point of a way inside one piece: on its edge where one is under the pointer. */
function next(bench: Bench, place: Place): Begin | null {
  const { begun } = useSketch.getState();
  const { piece } = place.hit;
  const first = begun[0];
  if (!piece || (first && piece.id !== first.piece)) return null;
  const at = place.hit.kind === "piece" ? place.snapped.at : place.table;
  return { piece: piece.id, spot: spotUnder(bench, place), own: inPiece(piece, at), at };
}

const follow: TableTool["move"] = (_, place) => useSketch.setState({ at: place.snapped.at, label: useSketch.getState().begun.length > 0 ? place.snapped.label : null });

const back = () => useSketch.setState((s) => ({ begun: s.begun.slice(0, -1) }));

const anchor = (b: Begin): Anchor => (b.spot === null ? { at: b.own } : b.spot);

function takeInside({ actions }: Bench) {
  const { begun } = useSketch.getState();
  const first = begun[0];
  if (!first || begun.length < 2) return;
  actions.edit({ do: "add-inside", piece: first.piece, points: begun.map(anchor), purpose: purposeOf(useDraft.getState()) });
  sketch.clear();
}

/** A line inside a piece, point by point; it ends on an edge, or with Enter. */
export const inside: TableTool = {
  down: (bench, place) => {
    const point = next(bench, place);
    if (!point) return;
    useSketch.setState((s) => ({ begun: [...s.begun, point] }));
    if (point.spot !== null && useSketch.getState().begun.length > 1) takeInside(bench);
  },
  move: follow,
  finish: takeInside,
  back,
};

/** A way from one place of the outline to another, then an edit of it. */
function across(make: (piece: number, from: Spot, to: Spot, through: Begin[]) => Edit, bends: boolean): TableTool {
  return {
    down: (bench, place) => {
      const point = next(bench, place);
      const { begun } = useSketch.getState();
      const first = begun[0];
      if (!point) return;
      if (point.spot === null && (!first || !bends)) {
        notify({ item: "This tool", reason: first ? "ends on an edge" : "begins on an edge", remedy: "Click an edge or a corner of the piece" });
        return;
      }
      if (!first || point.spot === null) return useSketch.setState({ begun: [...begun, point] });
      if (first.spot) bench.actions.edit(make(first.piece, first.spot, point.spot, begun.slice(1)));
      sketch.clear();
    },
    move: follow,
    back,
  };
}

/** Cuts a piece in two. */
export const cut = across((piece, from, to, through) => ({ do: "cut-piece", piece, from, to, through: through.map((p) => p.own), sew: useDraft.getState().sewCut }), true);

/** Lets cloth in along a way across a piece. */
export const spread = across((piece, from, to) => {
  const { spreadAmount: amount, spreadBy: by } = useDraft.getState();
  return { do: "spread", piece, cuts: [[from, to]], amount, by };
}, false);

/** Lays pleats beside a way across a piece. */
export const pleats = across((piece, from, to) => {
  const { pleats: count, pleatDepth: depth, pleatSpacing: spacing, pleat } = useDraft.getState();
  return { do: "add-pleats", piece, from, to, count, depth, spacing, pleat };
}, false);

/** Turns the dart whose point is selected to the edge that is clicked. */
export const turnDart: TableTool = {
  down: (bench, place) => {
    const { selection } = useDesk.getState();
    const { piece, node } = place.hit;
    const spot = spotUnder(bench, place);
    if (selection?.kind !== "corner" || selection.piece !== piece?.id) {
      if (place.hit.kind === "corner" && piece && node !== null) desk.select({ kind: "corner", piece: piece.id, node });
      return;
    }
    if (!spot) return;
    const { dartShare, gathers } = useDraft.getState();
    bench.actions.edit({ do: "turn-dart", piece: piece.id, tip: selection.node, to: spot, share: dartShare / 100, gathers });
    desk.select(null);
    desk.take("pick");
  },
};
