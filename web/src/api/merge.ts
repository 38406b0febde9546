import type { CostumeChange, CostumeState, ListChange } from "./types";

/** A list after a change; entries that did not change stay the same objects, so that nothing is drawn again for them. */
function listed<T>(old: readonly T[], { count, changed }: ListChange<T>): T[] {
  const list = old.slice(0, count);
  for (const [place, entry] of changed) list[place] = entry;
  return list;
}

/** The old value when the new one says the same, so that nothing is drawn again for it. */
const kept = <T>(old: T, now: T): T => (JSON.stringify(old) === JSON.stringify(now) ? old : now);

/** What is known with a change that was told against its step. */
export function merged(old: CostumeState, change: CostumeChange): CostumeState {
  const { step, version, can_undo, can_redo, rest } = change;
  const fabrics = rest.fabrics.map((f) => kept(old.costume.fabrics.find((o) => o.id === f.id) ?? f, f));
  return {
    ...old,
    step,
    version,
    can_undo,
    can_redo,
    diagnostics: kept(old.diagnostics, change.diagnostics),
    costume: { ...rest, body: kept(old.costume.body, rest.body), fabrics: kept(old.costume.fabrics, fabrics), pieces: listed(old.costume.pieces, change.pieces), seams: listed(old.costume.seams, change.seams) },
    block_values: change.block_values,
    pattern: { pieces: listed(old.pattern.pieces, change.shown_pieces), seams: listed(old.pattern.seams, change.shown_seams) },
  };
}
