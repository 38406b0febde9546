import type { Edit, HistoryStep } from "../api/types";

/** What was done, by the kind of the edit. */
const DONE: Record<Edit["do"], string> = {
  batch: "Several changes at once",
  "rename-costume": "Renamed the costume",
  "choose-body": "Changed the body",
  "keep-pose": "Kept a pose",
  "forget-pose": "Removed a pose",
  "lay-tape": "Laid a tape",
  "change-tape": "Changed a tape",
  "take-tape-off": "Took a tape off",
  "choose-fineness": "Changed the fineness",
  "add-fabric": "Added a fabric",
  "change-fabric": "Changed a fabric",
  "set-fabric": "Cut a piece from another fabric",
  "add-piece": "Drew a piece",
  "add-twin": "Added a twin",
  "separate-twin": "Separated a twin",
  "copy-piece": "Copied a piece",
  "remove-piece": "Removed a piece",
  "rename-piece": "Renamed a piece",
  "move-piece": "Moved a piece",
  "turn-piece": "Turned a piece",
  "set-grain": "Turned the grain",
  "set-wear": "Changed the wear order",
  "set-cut": "Changed how a piece is cut",
  park: "Parked a piece, or took it out",
  place: "Placed a piece on the body",
  "move-node": "Moved a corner",
  "set-node-kind": "Made a corner sharp or smooth",
  "move-handle": "Bent a line",
  "split-line": "Added a corner",
  "remove-node": "Removed a corner",
  "curve-line": "Curved a line",
  "straighten-line": "Straightened a line",
  "finish-line": "Finished a line",
  "add-cutout": "Cut a hole",
  "remove-cutout": "Closed a hole",
  "add-inside": "Drew a line inside",
  "remove-inside": "Removed a line inside",
  "set-purpose": "Changed what a line is for",
  "add-notch": "Added a notch",
  "add-drill-hole": "Added a drill hole",
  "add-text": "Wrote on a piece",
  "change-mark": "Changed a mark",
  "remove-mark": "Removed a mark",
  join: "Joined two lines",
  sew: "Sewed a seam",
  "flip-seam": "Turned a seam round",
  unpick: "Unpicked a seam",
  "fold-seam": "Pressed a seam",
  "close-seam": "Changed a closure",
  "ease-seam": "Changed how a seam is eased",
};

/** A step in words. */
export const wordsOf = ({ kind, name }: HistoryStep) => (kind ? `${DONE[kind]}${name ? `: ${name}` : ""}` : "The beginning");

/** The steps on the way through what is shown: all before it, and where redo leads. */
export function lineThrough(steps: HistoryStep[], shown: number): Set<number> {
  const by = new Map(steps.map((s) => [s.step, s]));
  const line = new Set<number>();
  for (let at = by.get(shown); at && !line.has(at.step); at = at.parent === null ? undefined : by.get(at.parent)) line.add(at.step);
  for (let at = by.get(by.get(shown)?.next ?? -1); at && !line.has(at.step); at = by.get(at.next ?? -1)) line.add(at.step);
  return line;
}
