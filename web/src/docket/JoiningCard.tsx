import { X } from "lucide-react";
import type { CostumeState, Run } from "../api/types";
import { useDesk } from "../desk/store";
import { useTrial } from "../desk/trial";
import { joining, useJoining } from "../table/joining";
import { newSeams } from "../table/shown";
import { finishJoining } from "../table/tools/sewing";
import { Button } from "../ui/Button";
import { format, formatSigned } from "../ui/units";
import { Advice, Card, Row } from "./Card";
import type { DocketProps } from "./props";
import { sideName } from "./SeamCards";

/** The seam that is being put together: its sides, how they fit, and what can be done with it. */
export function JoiningCard({ state, actions }: Pick<DocketProps, "state" | "actions">) {
  const { a, b, side, parts } = useJoining();
  const unit = useDesk((s) => s.unit);
  const { pattern, refusal } = useTrial();
  if (a.length === 0) return null;
  const made = newSeams(pattern?.seams, state.pattern.seams).find((s) => !s.image);
  return (
    <Card title="New seam">
      <Side state={state} name="First side" runs={a} here={side === "a"} />
      <Side state={state} name="Second side" runs={b} here={side === "b"} />
      {b.length === 0 && <p className="my-1 text-ink-soft">Click its partner; with Shift several, then Enter.</p>}
      {made && (
        <>
          <Row name="Lengths" value={`${format(made.a, unit, false)} and ${format(made.b, unit)}`} />
          <Row name="Difference" value={`${formatSigned(made.b - made.a, unit)} · ${made.kind}`} tone={made.good ? "text-moss" : "text-amber font-semibold"} />
        </>
      )}
      {refusal && b.length > 0 && (
        <Advice>
          <strong className="font-semibold">{refusal.item}</strong> {refusal.reason}. <span className="text-ink-soft">{refusal.remedy}</span>
        </Advice>
      )}
      {b.length > 1 && (
        <label className="mt-1 flex items-center gap-2">
          <input type="checkbox" data-parts checked={parts} onChange={(e) => joining.setParts(e.target.checked)} /> {b.length} equal parts of the first side
        </label>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button data-sew-now disabled={b.length === 0} onClick={() => finishJoining(actions)}>
          Sew <span className="figures text-[11px] opacity-75">Enter</span>
        </Button>
        <Button data-other-side onClick={joining.other}>
          Other side <span className="figures text-[11px] opacity-75">Q</span>
        </Button>
        <Button data-turn disabled={b.length === 0} onClick={joining.turn}>
          Turn round <span className="figures text-[11px] opacity-75">R</span>
        </Button>
      </div>
    </Card>
  );
}

function Side({ state, name, runs, here }: { state: CostumeState; name: string; runs: Run[]; here: boolean }) {
  return (
    <div className={`mb-1 rounded-md border px-2 py-1 ${here ? "border-thread" : "border-edge"}`} data-joining-side={here}>
      <div className="text-[11px] text-ink-soft">{name}</div>
      {runs.length === 0 && <div className="text-ink-soft">nothing yet</div>}
      {runs.map((run) => (
        <div key={`${run.piece} ${run.line} ${run.from ?? 0}`} className="flex items-center justify-between gap-2">
          <span className="truncate">
            {sideName(state, [run])}
            {(run.from !== undefined || run.to !== undefined) && <span className="figures text-ink-soft"> {Math.round(100 * (run.from ?? 0))}–{Math.round(100 * (run.to ?? 1))} %</span>}
          </span>
          <button type="button" aria-label="Take it out" className="rounded p-0.5 hover:bg-paper" onClick={() => joining.add(run)} hidden={!here}>
            <X size={13} />
          </button>
        </div>
      ))}
    </div>
  );
}
