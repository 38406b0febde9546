import { Check, Move, Rotate3d, Scaling, Undo2, X } from "lucide-react";
import { useEffect } from "react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState } from "../api/types";
import { useDesk } from "../desk/store";
import { useDrape } from "../stand/socket";
import { format } from "../ui/units";
import { Tip } from "../ui/Tip";
import { known } from "../pointer/gesture";
import { useBody, useBodyOf } from "./store";

const HANDLING = [
  ["move", "Move", Move],
  ["turn", "Turn", Rotate3d],
  ["scale", "Scale", Scaling],
] as const;

/** The stand's own tray in the body stage: for stand-ins and tapes. */
export function BodyTools({ state, actions }: { state: CostumeState; actions: CostumeActions }) {
  const { tab, shape, handling, laying } = useBodyOf("tab", "shape", "handling", "laying");
  const tool = "flex h-8 items-center gap-1.5 rounded-lg px-2.5 font-medium";
  const show = (tab === "contact" && shape !== null) || (tab === "tape" && laying);
  if (!show) return null;
  return (
    <div className="absolute bottom-4 left-1/2 flex -translate-x-1/2 items-center gap-1 whitespace-nowrap rounded-xl bg-ink p-1.5 text-card shadow-lg" role="toolbar" aria-label="Stand tray">
      {tab === "contact" &&
        HANDLING.map(([key, name, Icon]) => (
          <Tip key={key} text={`${name} the stand-in with the handles`}>
            <button type="button" data-handling={key} aria-pressed={handling === key} className={`${tool} ${handling === key ? "bg-tape text-ink" : "hover:bg-card/10"}`} onClick={() => useBody.setState({ handling: key })}>
              <Icon size={15} /> {name}
            </button>
          </Tip>
        ))}
      {tab === "tape" && laying && <Laying state={state} actions={actions} />}
    </div>
  );
}

function Laying({ state, actions }: { state: CostumeState; actions: CostumeActions }) {
  const { laying, tape, view } = useBodyOf("laying", "tape", "view");
  const unit = useDesk((s) => s.unit);
  const tool = "flex h-8 items-center gap-1.5 rounded-lg px-2.5 font-medium disabled:opacity-40";
  const points = laying ?? [];
  const length = view?.head.tapes.find((t) => t.id === 0)?.mm;
  const forget = () => useBody.setState({ laying: null });
  const finish = () => {
    if (points.length < 2) return;
    const names = new Set((state.costume.tapes ?? []).map((t) => t.name));
    let number = 1;
    while (names.has(`Tape ${number}`)) number += 1;
    actions.edit({ do: "lay-tape", tape: { id: 0, name: `Tape ${number}`, points, ...tape } });
    forget();
  };
  useEffect(() => {
    return known({ active: () => laying !== null, finish, cancel: forget, back: () => useBody.setState({ laying: points.slice(0, -1) }) });
  });
  return (
    <>
      <span className="figures px-2" data-laying={points.length}>
        {points.length < 2 ? `${points.length} of 2 points` : length === undefined ? "…" : format(length, unit)}
      </span>
      <button type="button" disabled={points.length === 0} className={`${tool} hover:bg-card/10`} onClick={() => useBody.setState({ laying: points.slice(0, -1) })}>
        <Undo2 size={15} /> Last point
      </button>
      <button type="button" data-lay disabled={points.length < 2} className={`${tool} bg-tape text-ink`} onClick={finish}>
        <Check size={15} /> Keep
      </button>
      <button type="button" aria-label="Forget the tape" className={`${tool} hover:bg-card/10`} onClick={forget}>
        <X size={15} />
      </button>
    </>
  );
}

/** Which parts of the body no cloth meets, in words; nothing when all of it counts. */
export function BodyNote() {
  const view = useBody((s) => s.view);
  const stage = useDesk((s) => s.stage);
  const live = useDrape((s) => (s.status && s.status.activity !== "empty" ? s.status.left_out : undefined));
  // cloth that came near a part has taken it in, which the document does not know
  const out = view?.head.parts.filter((p) => (live && stage !== "body" ? live.includes(p.key) : p.out)) ?? [];
  if (out.length === 0 || !["body", "drape", "check"].includes(stage)) return null;
  const names = out.map((p) => p.name.toLowerCase().replace(/, (left|right)$/, ""));
  const counts = [...new Set(names)].map((name) => (names.filter((n) => n === name).length > 1 ? `${name === "foot" ? "feet" : `${name}s`}` : name));
  return (
    <p className="pointer-events-none absolute top-9 left-4 text-[11px] text-ink-soft" data-passes={out.map((p) => p.key).join(" ")}>
      Cloth passes through: {counts.join(", ")}
    </p>
  );
}
