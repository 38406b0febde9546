import { useQuery } from "@tanstack/react-query";
import { History as HistoryIcon, Redo2, Undo2 } from "lucide-react";
import { useState } from "react";
import { go } from "../place";
import type { CostumeActions } from "../api/costume";
import { useSheets } from "../commands/sheets";
import { useOutbox } from "../api/outbox";
import { get } from "../api/http";
import type { CostumeState, RailProduction } from "../api/types";
import { type DrapeSocket, useDrapeOf } from "../stand/socket";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { desk, useDesk, useDeskOf } from "./store";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
  socket: DrapeSocket;
}

/** Where we are, whether it is saved, undo and redo, and the one main action of the stage. */
export function Header({ state, actions, socket }: Props) {
  const rail = useQuery({ queryKey: ["rail"], queryFn: () => get<RailProduction[]>("/api/rail") });
  const production = rail.data?.find((p) => p.id === state.production);
  const { unit } = useDeskOf("unit");
  const [renaming, setRenaming] = useState(false);
  return (
    <header className="isolate flex h-[46px] shrink-0 items-center gap-4 bg-card px-4">
      <button type="button" className="wordmark" title="Back to the rail" onClick={() => go("/")}>
        Ourlet
      </button>
      <nav className="flex items-center gap-1.5 text-[14px]">
        <button type="button" className="text-ink-soft hover:text-ink hover:underline" onClick={() => go("/")}>
          {production?.name ?? "Rail"}
        </button>
        <span className="text-ink-soft">/</span>
        <h1>
        <button type="button" className="font-semibold hover:underline" title="Rename the costume" data-name onClick={() => setRenaming(true)}>
          {state.costume.name}
        </button>
        </h1>
      </nav>
      <Saved state={state} />
      <div className="ml-auto flex items-center gap-2">
        <Button aria-label="Undo" disabled={!state.can_undo} onClick={() => void actions.undo()} title="Undo (Ctrl+Z)">
          <Undo2 size={15} /> Undo
        </Button>
        <Button aria-label="Redo" disabled={!state.can_redo} onClick={() => void actions.redo()} title="Redo (Ctrl+Shift+Z)">
          <Redo2 size={15} /> Redo
        </Button>
        <Button aria-label="History" onClick={() => useSheets.setState({ open: "history" })} title="Every step (H)">
          <HistoryIcon size={15} />
        </Button>
        <Button aria-label={`Lengths in ${unit}`} title="Change between centimetres and inches" onClick={() => useDesk.setState({ unit: unit === "cm" ? "in" : "cm" })}>
          {unit}
        </Button>
        <MainAction socket={socket} />
      </div>
      {renaming && (
        <AskName title="Rename costume" label="Name" start={state.costume.name} confirm="Rename" onClose={() => setRenaming(false)} onDone={(name) => actions.edit({ do: "rename-costume", name })} />
      )}
    </header>
  );
}

function Saved({ state }: { state: CostumeState }) {
  const { waiting, away } = useOutbox();
  const count = waiting[state.id]?.length ?? 0;
  if (away && count > 0)
    return (
      <span className="rounded bg-amber-pale px-2 py-0.5 text-amber" data-saved="waiting">
        {count === 1 ? "1 step" : `${count} steps`} kept here until the database answers
      </span>
    );
  return (
    <span className="figures text-ink-soft" data-saved={count > 0 ? "saving" : "saved"}>
      {count > 0 ? "saving" : `saved · step ${state.step}`}
    </span>
  );
}

function MainAction({ socket }: { socket: DrapeSocket }) {
  const { stage } = useDeskOf("stage");
  const { status, checked } = useDrapeOf("status", "checked");
  const [naming, setNaming] = useState(false);
  const running = status?.activity === "closing" || status?.activity === "falling";
  const idle = !status || status.activity === "empty";
  const draped = status?.activity === "at-rest" || status?.activity === "paused";
  const drape = () => {
    desk.go("drape");
    socket.send({ do: "drape" });
  };
  if (stage === "drape" && (running || draped))
    return (
      <>
        <Button kind="main" data-main onClick={() => setNaming(true)}>
          Keep as a fitting
        </Button>
        {naming && (
          <AskName title="Keep as a fitting" label="Name" start={`Fitting of ${new Date().toLocaleDateString(undefined, { day: "numeric", month: "long" })}`} confirm="Keep" onClose={() => setNaming(false)} onDone={(name) => socket.send({ do: "keep", name })} />
        )}
      </>
    );
  if (stage === "check")
    return (
      <Button kind="main" data-main disabled={idle} onClick={() => socket.send({ do: "check" })}>
        {checked ? "Check again" : "Check the drape"}
      </Button>
    );
  if (stage === "deliver")
    return (
      <Button kind="main" data-main disabled={idle} onClick={() => document.querySelector<HTMLFormElement>("#delivery")?.requestSubmit()}>
        Deliver
      </Button>
    );
  return (
    <Button kind="main" data-main disabled={idle || running} onClick={drape}>
      {running ? "Draping…" : "Drape"}
    </Button>
  );
}
