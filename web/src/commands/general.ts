import { History as HistoryIcon, Maximize, PersonStanding, PaintBucket, Redo2, Shapes, Undo2, ZoomIn } from "lucide-react";
import { delivery } from "../docket/delivering";
import { desk, STAGES, type Stage, useDesk } from "../desk/store";
import { isRunning } from "../desk/standing";
import { togglePlain } from "../stand/quality";
import { useDrape } from "../stand/socket";
import { rehearse, useRehearse } from "../rehearse/store";
import type { Command } from "./command";
import { useSheets } from "./sheets";

const NAMES: Record<Stage, string> = { body: "Body", draft: "Draft", join: "Join", drape: "Drape", rehearse: "Rehearse", check: "Check", deliver: "Deliver" };

export const GENERAL: Command[] = [
  { id: "undo", name: "Undo", help: "Take back the last step", group: "Everywhere", key: "Ctrl Z", icon: Undo2, enabled: ({ state }) => state.can_undo, run: ({ actions }) => void actions.undo() },
  { id: "redo", name: "Redo", help: "Do again what was taken back", group: "Everywhere", key: "Ctrl Shift Z", icon: Redo2, enabled: ({ state }) => state.can_redo, run: ({ actions }) => void actions.redo() },
  { id: "redo-too", name: "Redo", help: "Do again what was taken back", group: "Everywhere", key: "Ctrl Y", sheet: false, enabled: ({ state }) => state.can_redo, run: ({ actions }) => void actions.redo(), keyOnly: true },
  { id: "history", name: "History", help: "Every step, also those that were taken back; go to any of them", group: "Everywhere", key: "H", icon: HistoryIcon, run: () => useSheets.setState({ open: "history" }) },
  ...STAGES.map(
    (stage, k): Command => ({ id: `stage-${stage}`, name: `Go to ${NAMES[stage]}`, help: "A stage of the work", group: "Everywhere", key: String(k + 1), sheet: k === 0 ? ["1 … 7", "The stages, Body to Deliver"] : false, run: () => desk.go(stage) }),
  ),
  { id: "blocks", name: "Lay a block", help: "Pieces drafted from the body's measures, ready to drape", group: "Draft", key: "B", icon: Shapes, run: () => (useDesk.getState().stage !== "draft" && desk.go("draft"), useSheets.setState({ open: "blocks" })) },
  { id: "laying", name: "Laying plan", help: "The pieces on cloth of a width, in one size or several, and the cutter that cuts them", group: "Everywhere", run: () => useSheets.setState({ open: "laying" }) },
  { id: "laboratory", name: "Textile laboratory", help: "What every cloth does in the tests that its values come from", group: "Everywhere", run: () => useSheets.setState({ open: "laboratory" }) },
  { id: "fit", name: "Show all pieces", help: "The whole pattern in sight", group: "Everywhere", key: "0", icon: Maximize, run: desk.fitAll },
  { id: "fit-selected", name: "Show what is selected", help: "As large as the table allows", group: "Everywhere", key: "Z", icon: ZoomIn, enabled: () => useDesk.getState().selection !== null, run: desk.fitSelected },
  { id: "figure-under", name: "Figure under the paper", help: "The body from the front at true scale, behind the selected piece or beside all", group: "Draft", icon: PersonStanding, run: () => useDesk.setState((s) => ({ figureUnder: !s.figureUnder })) },
  { id: "fill", name: "Fill with fabric", help: "Pieces in their cloth, or as white paper", group: "Everywhere", icon: PaintBucket, run: () => useDesk.setState((s) => ({ filled: !s.filled })) },
  { id: "plain-pictures", name: "Plain or full pictures", help: "Cloth on the stand without weave, sheen and shadow, for slow graphics", group: "Stand", run: togglePlain },
  { id: "unit", name: "Centimetres or inches", help: "Change the unit of lengths", group: "Everywhere", run: () => useDesk.setState((s) => ({ unit: s.unit === "cm" ? "in" : "cm" })) },
  { id: "search", name: "Find a command", help: "By its name", group: "Everywhere", key: "Ctrl K", run: () => useSheets.setState({ open: "search" }), keyOnly: true },
  { id: "keys", name: "Keys and pointer", help: "The sheet of shortcuts", group: "Everywhere", key: "?", run: () => useSheets.setState({ open: "keys" }) },
  {
    id: "drape",
    name: "Drape or pause",
    help: "Let the cloth fall, or hold it still",
    group: "Stand",
    key: "D",
    enabled: () => useDrape.getState().status !== null && useDrape.getState().status?.activity !== "empty",
    run: ({ socket }) => {
      const running = isRunning(useDrape.getState().status);
      if (!running && useDesk.getState().stage !== "drape") desk.go("drape");
      socket.send({ do: running ? "pause" : "drape" });
    },
  },
  { id: "play", name: "Play or hold the rehearsal", help: "On the stand, at its true speed", group: "Stand", enabled: () => (useRehearse.getState().row?.done ?? 0) > 0, run: () => (desk.go("rehearse"), rehearse.play(!useRehearse.getState().playing)) },
  { id: "next-fault", name: "Next frame with a fault", help: "Of the rehearsal on the stand", group: "Stand", enabled: () => useRehearse.getState().reports.some((r) => r.cause), run: rehearse.nextFault },
  { id: "rehang", name: "Hang again", help: "All pieces back to their stations", group: "Stand", enabled: () => useDrape.getState().status?.activity !== "empty", run: ({ socket }) => socket.send({ do: "rehang" }) },
  { id: "deliver-again", name: "Deliver as last time", help: "The files of the last choice, from the drape as it hangs", group: "Stand", key: "Shift D", enabled: () => useDrape.getState().status?.activity === "at-rest", run: ({ state }) => (desk.go("deliver"), void delivery.run(state.id)) },
  { id: "check", name: "Check the drape", help: "Look for crossings, measure the strain", group: "Stand", enabled: () => useDrape.getState().status?.activity !== "empty", run: ({ socket }) => (desk.go("check"), socket.send({ do: "check" })) },
];
