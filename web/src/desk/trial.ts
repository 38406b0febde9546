import { create } from "zustand";
import type { Command, Edit, Event as SocketEvent, PatternView, Refusal } from "../api/types";

interface TrialState {
  /** The edit under the pointer, not sent yet. */
  edit: Edit | null;
  /** What it changes, as the server answered. */
  pattern: PatternView | null;
  refusal: Refusal | null;
}

const nothing: TrialState = { edit: null, pattern: null, refusal: null };

/** What an edit would come to, while the pointer drags; all geometry is the server's. */
export const useTrial = create<TrialState>(() => nothing);

let send: ((command: Command) => void) | null = null;
let number = 0;
let underWay = false;
let next: Edit | null = null;

function ask(edit: Edit) {
  if (!send) return;
  underWay = true;
  number += 1;
  send({ do: "trial", number, edit });
}

export const trials = {
  /** Where trials are sent to; nowhere while the server is away. */
  connect: (to: ((command: Command) => void) | null) => {
    send = to;
    underWay = false;
    next = null;
  },
  /** Tries an edit out; while one is under way only the newest waits. */
  show: (edit: Edit) => {
    useTrial.setState({ edit });
    if (underWay) next = edit;
    else ask(edit);
  },
  hear: (event: Extract<SocketEvent, { is: "trial" }>) => {
    if (event.number !== number) return;
    underWay = false;
    if (useTrial.getState().edit !== null) useTrial.setState(event.pattern ? { pattern: event.pattern, refusal: null } : { refusal: event.refusal });
    const waiting = next;
    next = null;
    if (waiting) ask(waiting);
  },
  /** The pointer let go: the edit is on its way, and what it came to stays in sight until it is acknowledged. */
  settle: () => {
    next = null;
    useTrial.setState({ edit: null, refusal: null });
  },
  /** Nothing is tried out any more. */
  clear: () => {
    next = null;
    number += 1;
    underWay = false;
    const { edit, pattern, refusal } = useTrial.getState();
    if (edit || pattern || refusal) useTrial.setState(nothing);
  },
};
