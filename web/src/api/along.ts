import type { Said } from "./said";
import type { CostumeState, Edit } from "./types";

/** "A", "A and B", "A, B and C". */
const listed = (names: string[]) => (names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} and ${names[names.length - 1]}`);

/** What an edit took along besides what it was asked to remove; nothing when it took nothing. */
export function tookAlong(before: CostumeState, after: CostumeState, edit: Edit): Said | null {
  const left = new Set(after.costume.seams.map((s) => s.id));
  const seams = before.costume.seams.filter((s) => !left.has(s.id) && !(edit.do === "unpick" && edit.seam === s.id)).map((s) => s.tag);
  const there = new Set(after.costume.pieces.map((p) => p.id));
  const removed = edit.do === "remove-piece" ? edit.piece : null;
  const pieces = before.costume.pieces.filter((p) => !there.has(p.id) && p.id !== removed).map((p) => p.name);
  if (seams.length + pieces.length === 0) return null;
  const what = [...(pieces.length > 0 ? [listed(pieces)] : []), ...(seams.length > 0 ? [`${seams.length === 1 ? "seam" : "seams"} ${listed(seams)}`] : [])];
  const item = before.costume.pieces.find((p) => p.id === removed)?.name ?? "This step";
  return { item, reason: `took ${listed(what)} along`, remedy: "" };
}
