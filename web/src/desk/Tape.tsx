import type { CostumeState } from "../api/types";
import { useBody } from "../body/store";
import { usePoseName } from "../body/usePoseName";
import { useDrapeOf } from "../stand/socket";
import { checkWords, deliverWords, drapeWords } from "./standing";
import { FirstThing } from "./FirstThing";
import { useRehearsals } from "../rehearse/api";
import { rehearseWords } from "../rehearse/words";
import { desk, STAGES, type Stage, useDeskOf } from "./store";

const NAMES: Record<Stage, string> = { body: "Body", draft: "Draft", join: "Join", drape: "Drape", rehearse: "Rehearse", check: "Check", deliver: "Deliver" };
const plural = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;

/** The tape measure with the stages of work, each with its state in a few words. */
export function Tape({ state }: { state: CostumeState }) {
  const { stage } = useDeskOf("stage");
  const { status, checked } = useDrapeOf("status", "checked");
  const uneven = state.pattern.seams.filter((s) => !s.good && !s.image).length;
  const [drape, check, deliver] = [drapeWords(status), checkWords(status, checked !== null), deliverWords(status)];
  const rehearsed = rehearseWords(useRehearsals(state.id).data);
  const shownName = useBody((s) => s.view?.head.name);
  const { figure, preset } = state.costume.body;
  const bodyName = figure && shownName ? shownName : preset.replace(/-/g, " ").replace(/^./, (c) => c.toUpperCase());
  const poseName = usePoseName(state.costume);
  const words: Record<Stage, string> = {
    body: `${bodyName}${Object.keys(state.costume.body.set ?? {}).length > 0 ? ", altered" : ""} · ${poseName}`,
    draft: state.costume.pieces.length === 0 ? "no pieces yet" : plural(state.costume.pieces.length, "piece"),
    join: state.costume.seams.length === 0 ? "not joined" : `${plural(state.costume.seams.length, "seam")}${uneven ? ` · ${uneven} uneven` : ""}`,
    drape: drape.text,
    rehearse: rehearsed.text,
    check: check.text,
    deliver: deliver.text,
  };
  return (
    <div className="tape isolate flex h-[44px] shrink-0 items-end border-tape-line/50 border-y px-3" role="tablist" aria-label="Stages of work">
      {STAGES.map((name) => {
        const current = stage === name;
        const bad = (name === "join" && uneven > 0) || (name === "drape" && drape.bad) || (name === "rehearse" && rehearsed.bad) || (name === "check" && check.bad) || (name === "deliver" && deliver.bad);
        return (
          <button
            key={name}
            type="button"
            role="tab"
            aria-selected={current}
            data-stage={name}
            onClick={() => desk.go(name)}
            className={`-mb-px h-[38px] min-w-0 max-w-[200px] flex-1 rounded-t-md px-3 text-left leading-tight transition-colors duration-150 ${current ? "border border-tape-line/50 border-b-0 bg-card" : "hover:bg-card/35"}`}
          >
            <span className="block font-heading font-semibold text-[14px]">{NAMES[name]}</span>
            <span className={`block truncate text-[11px] ${bad ? "font-semibold text-brick" : "text-ink/75"}`} data-words title={words[name]}>
              {words[name]}
            </span>
          </button>
        );
      })}
      <FirstThing state={state} />
    </div>
  );
}
