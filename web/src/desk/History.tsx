import { useQuery } from "@tanstack/react-query";
import { GitBranch, X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { CostumeActions } from "../api/costume";
import { get } from "../api/http";
import type { CostumeState, HistoryStep } from "../api/types";
import { useSheets } from "../commands/sheets";
import { lineThrough, wordsOf } from "./steps";

/** Every step of the costume, the newest first; also those that were taken back and left for others. */
export function History({ state, actions }: { state: CostumeState; actions: CostumeActions }) {
  const open = useSheets((s) => s.open === "history");
  const steps = useQuery({ queryKey: ["history", state.id, state.version], queryFn: () => get<HistoryStep[]>(`/api/costumes/${state.id}/history`), enabled: open, placeholderData: (old) => old });
  const line = lineThrough(steps.data ?? [], state.step);
  return (
    <Dialog.Root open={open} onOpenChange={(on) => !on && useSheets.setState({ open: null })} modal={false}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-[96px] right-[300px] z-40 flex max-h-[70vh] w-[330px] flex-col rounded-xl border border-edge bg-card shadow-xl outline-none"
          data-history={steps.data?.length ?? 0}
        >
          <div className="flex items-center justify-between border-edge border-b px-4 py-2.5">
            <Dialog.Title className="font-heading font-semibold text-[15px]">History</Dialog.Title>
            <Dialog.Close aria-label="Close the history">
              <X size={15} />
            </Dialog.Close>
          </div>
          <ol className="min-h-0 overflow-auto p-1.5">
            {steps.data?.map((step) => (
              <Row key={step.step} id={state.id} step={step} shown={step.step === state.step} aside={!line.has(step.step)} later={line.has(step.step) && step.step > state.step} onGo={() => void actions.go(step.step)} />
            ))}
          </ol>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

interface RowProps {
  id: number;
  step: HistoryStep;
  shown: boolean;
  /** On a branch that was left. */
  aside: boolean;
  /** Taken back; redo leads here. */
  later: boolean;
  onGo: () => void;
}

function Row({ id, step, shown, aside, later, onGo }: RowProps) {
  const at = new Date(step.made_at).toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit" });
  return (
    <li>
      <button
        type="button"
        onClick={onGo}
        aria-current={shown ? "step" : undefined}
        title={shown ? "Shown now" : aside ? "On a branch that was left: go back to it" : "Go to this step"}
        data-history-step={step.step}
        className={`flex w-full items-baseline gap-2 rounded-md px-2.5 py-1 text-left hover:bg-paper ${shown ? "bg-tape font-semibold" : ""} ${aside || later ? "text-ink-soft" : ""} ${aside ? "pl-6" : ""}`}
      >
        <img src={`/api/costumes/${id}/steps/${step.step}/picture`} alt="" loading="lazy" className="h-9 w-11 shrink-0 self-center rounded border border-edge bg-sheet object-contain" />
        {aside && <GitBranch size={12} className="shrink-0 self-center" />}
        <span className="flex-1 truncate">{wordsOf(step)}</span>
        {later && <span className="text-[11px]">taken back</span>}
        <span className="figures text-[11px] text-ink-soft">{at}</span>
      </button>
    </li>
  );
}
