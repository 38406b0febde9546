import type { CostumeState, Diagnostic } from "../api/types";
import { useDrapeOf } from "../stand/socket";
import { isDraped } from "./standing";
import { desk, type Stage } from "./store";

/** Where a finding is mended; all others at the seams. */
const STAGE: Partial<Record<Diagnostic["kind"]["is"], Stage>> = {
  "nothing-hangs": "draft",
  "allowances-overlap": "draft",
  "too-thick": "drape",
  "too-stiff": "drape",
};

/** Told where they matter: a mesh that is too coarse for a cloth's folds is a choice, not a fault. */
const CHOSEN = ["folds-too-fine", "parked-seam"];

/** What has to be done first before the drape, at the end of the tape; a click goes there. */
export function FirstThing({ state }: { state: CostumeState }) {
  const { status } = useDrapeOf("status");
  const found = state.diagnostics.filter((d) => !CHOSEN.includes(d.kind.is));
  // the gravest comes first
  const [first] = found;
  const through = status?.findings.find((f) => f.kind === "threads-through-body");
  if (isDraped(status)) return null;
  const row = "mb-1.5 ml-auto flex h-[30px] max-w-[260px] min-w-0 shrink items-center gap-1.5 self-end rounded-md px-2.5 text-[12px]";
  if (!first && !through)
    return state.costume.pieces.length === 0 ? null : (
      <span className={`${row} text-ink/75`} data-first="ready">
        Ready to drape
      </span>
    );
  const words = first ? `${first.item} ${first.reason}` : (through?.words ?? "");
  const go = () => {
    desk.go(first ? (STAGE[first.kind.is] ?? "join") : "join");
    if (first) desk.selectFound(first);
  };
  return (
    <button type="button" onClick={go} title={first ? `${words}. ${first.remedy}` : words} data-first={first?.kind.is ?? "threads-through-body"} className={`${row} bg-card/60 hover:bg-card`}>
      <span className="font-semibold">First</span>
      <span className="truncate">{words}</span>
      {found.length > 1 && <span className="figures shrink-0 text-ink-soft">1 of {found.length}</span>}
    </button>
  );
}
