import { desk } from "../../desk/store";
import { sketch, useSketch } from "../sketch";
import { type Bench, inPiece, type TableTool } from "./bench";

/** Points are met to this, mm. */
const WITHIN = 0.1;

function take(bench: Bench) {
  const { begun } = useSketch.getState();
  const [first, ...rest] = begun;
  const piece = bench.pattern.pieces.find((p) => p.id === first?.piece);
  const line = first?.spot && "on" in first.spot ? first.spot.on.line : null;
  sketch.clear();
  if (!piece || line === null || rest.length === 0) return;
  bench.actions.edit({ do: "redraw-line", piece: piece.id, line, points: rest.map((b) => inPiece(piece, b.at)), within: WITHIN });
  desk.select({ kind: "edge", piece: piece.id, line });
}

/** A smooth curve through points in the place of an edge: the edge is clicked first, then the points from its beginning to its end. */
export const through: TableTool = {
  down: (_, { hit, snapped, table }) => {
    const { begun } = useSketch.getState();
    const [first] = begun;
    if (!first) {
      if (!hit.piece || hit.line === null) return;
      useSketch.setState({ begun: [{ piece: hit.piece.id, spot: { on: { line: hit.line, at: 0 } }, own: inPiece(hit.piece, table), at: table }] });
      return;
    }
    useSketch.setState({ begun: [...begun, { piece: first.piece, spot: null, own: first.own, at: snapped.at }] });
  },
  move: (_, { snapped }) => useSketch.setState({ at: snapped.at, label: snapped.label }),
  finish: take,
  back: () => useSketch.setState((s) => ({ begun: s.begun.slice(0, -1) })),
};
