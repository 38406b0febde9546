import { TriangleAlert } from "lucide-react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState, Diagnostic, Finding } from "../api/types";
import { Button } from "../ui/Button";
import { Advice } from "./Card";

/** All that is the matter with the drape, in the words of the tape and the footer. */
export function Findings({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="mb-2 rounded-md bg-amber/10 px-3 py-2" data-findings={findings.length}>
      {findings.map((f) => (
        <li key={f.kind} className={`flex gap-2 first-letter:uppercase ${f.is_fault ? "text-brick" : "text-ink-soft"}`} data-finding={f.kind}>
          <TriangleAlert size={14} className="mt-0.5 shrink-0" />
          <span className="first-letter:uppercase">{f.words}</span>
        </li>
      ))}
    </ul>
  );
}

/** What mends a finding, a click each. */
export function MendButtons({ diagnostic, actions }: { diagnostic: Diagnostic; actions: CostumeActions }) {
  if (diagnostic.mends.length === 0) return null;
  return (
    <div className="mt-1.5 flex flex-wrap gap-1.5">
      {diagnostic.mends.map((m) => (
        <Button key={m.kind} className="h-7 px-2" data-mend={m.kind} onClick={() => actions.edit(m.edit)}>
          {m.name}
        </Button>
      ))}
    </div>
  );
}

/** What is the matter with one seam, and what mends it. */
export function Mends({ state, actions, seam }: { state: CostumeState; actions: CostumeActions; seam: number }) {
  return (
    <>
      {state.diagnostics
        .filter((d) => d.seam === seam)
        .map((d) => (
          <Advice key={d.reason}>
            {d.reason}. <span className="text-ink-soft">{d.remedy}</span>
            <MendButtons diagnostic={d} actions={actions} />
          </Advice>
        ))}
    </>
  );
}
