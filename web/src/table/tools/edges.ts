import type { Edit, RunView } from "../../api/types";
import { desk } from "../../desk/store";
import { trials, useTrial } from "../../desk/trial";
import { useDraft } from "../draft";
import { seamAt } from "../find";
import { nearestOn, shareAt } from "../shape";
import { allLines, toPieceFrame } from "../shown";
import { type Bench, inPiece, lineUnder, type Place, spotUnder, type TableTool } from "./bench";

/** A new corner on an edge. */
export const corner: TableTool = {
  down: (bench, place) => {
    const line = lineUnder(bench, place);
    if (!line || !place.hit.piece || place.hit.line === null) return;
    bench.actions.edit({ do: "split-line", piece: place.hit.piece.id, line: place.hit.line, fraction: nearestOn(line, place.screen) });
  },
};

/** The edit that pulls the line that was pressed to where the pointer is. */
function bent(held: Place, at: number, place: Place): Edit | null {
  const { piece, line } = held.hit;
  return piece && line !== null ? { do: "bend-line", piece: piece.id, line, at, to: toPieceFrame(piece.view, place.table) } : null;
}

/** A click makes an edge a curve or straight again; a drag pulls it to where the pointer is. */
export const bow: TableTool = {
  move: (bench, place, held) => {
    const line = held && lineUnder(bench, held);
    const edit = line && bent(held, nearestOn(line, held.screen), place);
    if (edit) trials.show(edit);
  },
  up: (bench, _, held) => {
    const { piece, line } = held.hit;
    const made = useTrial.getState().edit;
    if (made) {
      bench.actions.edit(made);
      trials.settle();
    } else if (piece && line !== null) {
      const curved = allLines(piece.view).find((l) => l.line === line)?.handles;
      bench.actions.edit({ do: curved ? "straighten-line" : "curve-line", piece: piece.id, line });
    }
    if (piece && line !== null) desk.select({ kind: "edge", piece: piece.id, line });
  },
};

/** A notch where an edge is clicked; on a seam, on both of its sides at the same length. */
export const notch: TableTool = {
  down: (bench, place) => {
    const line = lineUnder(bench, place);
    const { piece, line: id } = place.hit;
    if (!line || !piece || id === null) return;
    const at = shareAt(line, nearestOn(line, place.screen));
    const { doubleNotch: double, bothSides } = useDraft.getState();
    const seam = bothSides ? seamAt(bench.pattern.seams, piece.id, id) : undefined;
    const length = seam && !seam.image ? (along(bench, seam.runs_a, piece.id, id, at) ?? along(bench, seam.runs_b, piece.id, id, at)) : null;
    if (seam && length !== null) bench.actions.edit({ do: "add-seam-notch", seam: seam.seam, at: length, double });
    else bench.actions.edit({ do: "add-notch", piece: piece.id, line: id, at, double });
  },
};

/** Length from the beginning of a side of a seam to a place on one of its lines; null when it does not go there. */
function along({ pattern }: Bench, runs: RunView[], piece: number, line: number, at: number): number | null {
  let reached = 0;
  for (const run of runs) {
    const view = pattern.pieces.find((p) => p.id === run.piece)?.view;
    const whole = view ? (allLines(view).find((l) => l.line === run.line && l.image === run.image)?.length ?? 0) : 0;
    const length = whole * Math.abs(run.to - run.from);
    const share = (at - run.from) / (run.to - run.from);
    if (run.piece === piece && run.line === line && !run.image && share >= 0 && share <= 1) return reached + share * length;
    reached += length;
  }
  return null;
}

/** A drill hole in the cloth. */
export const hole: TableTool = {
  down: ({ actions }, place) => {
    if (place.hit.piece) actions.edit({ do: "add-drill-hole", piece: place.hit.piece.id, at: inPiece(place.hit.piece, place.table) });
  },
};

/** A text on the cloth. */
export const text: TableTool = {
  down: ({ actions }, place) => {
    if (place.hit.piece) actions.edit({ do: "add-text", piece: place.hit.piece.id, at: inPiece(place.hit.piece, place.table), text: useDraft.getState().text });
  },
};

/** A dart: pressed on an edge and drawn into the cloth as deep as it is to be; pressed on the cloth, one with two points. */
export const dart: TableTool = {
  move: (bench, place, held) => {
    const edit = held && darted(bench, held, place);
    if (edit) trials.show(edit);
  },
  up: (bench, place, held) => {
    const edit = darted(bench, held, place);
    if (!edit) return trials.clear();
    bench.actions.edit(edit);
    trials.settle();
  },
};

function darted(bench: Bench, held: Place, place: Place): Edit | null {
  const { piece, line } = held.hit;
  if (!piece) return null;
  const { dartWidth: width } = useDraft.getState();
  const depth = Math.hypot(place.table.x - held.table.x, place.table.y - held.table.y);
  if (depth < 5) return null;
  const spot = spotUnder(bench, held);
  if (line !== null && spot && "on" in spot) return { do: "add-dart", piece: piece.id, line, at: spot.on.at, width, depth };
  if (held.hit.kind !== "piece") return null;
  const [a, b] = [inPiece(piece, held.table), inPiece(piece, place.table)];
  const degrees = (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI - 90;
  return { do: "add-inside-dart", piece: piece.id, at: a, width, up: depth, down: depth, degrees };
}
