import type { Run } from "../../api/types";
import { desk } from "../../desk/store";
import { trials } from "../../desk/trial";
import { notify } from "../../ui/notices";
import { toScreen } from "../camera";
import { seamAt } from "../find";
import { edit, joining, runOf, useJoining } from "../joining";
import { nearestOn, pointOn, shareAt } from "../shape";
import { toTableFrame } from "../shown";
import { type Bench, lineUnder, type Place, type TableTool } from "./bench";

/** A share nearer to an end of its line than this on screen is that end, px. */
const END = 9;

/** Takes one more stretch into the seam that is begun; without Shift the second side is complete with it. */
export function take(actions: Bench["actions"], run: Run, more: boolean) {
  const { a, b, side, many } = useJoining.getState();
  if (a.length === 0) return joining.begin(run, more);
  if (more && b.length === 0 && side === "a" && many) return joining.add(run);
  if (side === "a" && b.length === 0) joining.other();
  joining.add(run);
  if (!more && b.length === 0) finishJoining(actions);
}

/** Sews what was chosen. */
export function finishJoining(actions: Bench["actions"]) {
  const made = edit(useJoining.getState());
  if (!made) return;
  actions.edit(made);
  trials.settle();
  joining.clear();
}

/** The stretch from where the pointer was pressed to where it is, along one line. */
function drawnAlong(bench: Bench, held: Place, place: Place): Run | null {
  const line = lineUnder(bench, held);
  const { piece, line: id } = held.hit;
  if (!line || !piece || id === null) return null;
  const at = (p: Place) => {
    const t = nearestOn(line, p.screen);
    const [q, first, last] = [pointOn(line, t), pointOn(line, 0), pointOn(line, 1)];
    if (Math.hypot(q.x - first.x, q.y - first.y) < END) return 0;
    if (Math.hypot(q.x - last.x, q.y - last.y) < END) return 1;
    // a notch is met exactly
    const view = piece.view.notches.map((n) => n.at);
    const near = view.map((n) => nearestOn(line, toScreen(bench.camera, toTableFrame(piece.view, n)))).find((s) => Math.hypot(pointOn(line, s).x - q.x, pointOn(line, s).y - q.y) < END);
    return shareAt(line, near ?? t);
  };
  const shares = [at(held), at(place)];
  const own = line.view.turned ? shares.map((s) => 1 - s) : shares;
  const [from = 0, to = 1] = own;
  return Math.abs(to - from) * line.view.length < 2 ? null : runOf(piece.id, id, Math.min(from, to), Math.max(from, to));
}

/** Joins stretches: a click takes a whole line, a drag along it a part; with Shift further ones go to the same side. */
export const seam: TableTool = {
  move: (bench, place, held) => {
    if (held) joining.draw(drawnAlong(bench, held, place));
  },
  up: (bench, place, held) => {
    const { hit } = held;
    const part = useJoining.getState().drawn;
    joining.draw(null);
    if (!hit.piece || hit.line === null) {
      if (!joining.begun()) return desk.select(hit.kind === "piece" && hit.piece ? { kind: "piece", piece: hit.piece.id } : null);
      trials.clear();
      return joining.clear();
    }
    const away = Math.hypot(place.screen.x - held.screen.x, place.screen.y - held.screen.y) > 6;
    const run = away && part ? part : runOf(hit.piece.id, hit.line);
    const taken = seamAt(bench.pattern.seams, hit.piece.id, hit.line);
    if (!joining.begun() && taken && !held.shift && !away) return desk.select({ kind: "seam", seam: taken.seam });
    if (!joining.begun()) desk.select(null);
    take(bench.actions, run, held.shift);
  },
  finish: (bench) => finishJoining(bench.actions),
  back: joining.back,
};

const ofSeam = (make: (seam: number) => { do: "flip-seam" | "unpick"; seam: number }): TableTool => ({
  down: ({ pattern, actions }, { hit }) => {
    if (!hit.piece || hit.line === null) return;
    const found = seamAt(pattern.seams, hit.piece.id, hit.line);
    if (found) actions.edit(make(found.seam));
    else notify({ item: `${hit.piece.doc.name}, this edge`, reason: "is not sewn", remedy: "Click an edge with a letter tag" });
  },
});

export const flip = ofSeam((seam) => ({ do: "flip-seam", seam }));
export const unpick = ofSeam((seam) => ({ do: "unpick", seam }));
