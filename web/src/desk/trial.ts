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
let next: { edit: Edit; along: (() => void) | undefined } | null = null;
/** What is drawn together with the answer that is awaited. */
let along: (() => void) | undefined;

function ask(edit: Edit, besides: (() => void) | undefined) {
  if (!send) return besides?.();
  along = besides;
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
  /**
   * Tries an edit out; while one is under way only the newest waits. What else is to be seen of the same movement is drawn
   * along with the answer: one picture for each movement rather than two.
   */
  show: (edit: Edit, besides?: () => void) => {
    useTrial.setState({ edit });
    if (underWay) next = { edit, along: besides };
    else ask(edit, besides);
  },
  hear: (event: Extract<SocketEvent, { is: "trial" }>) => {
    if (event.number !== number) return;
    underWay = false;
    along?.();
    along = undefined;
    if (useTrial.getState().edit !== null) useTrial.setState(event.pattern ? { pattern: event.pattern, refusal: null } : { refusal: event.refusal });
    const waiting = next;
    next = null;
    if (waiting) ask(waiting.edit, waiting.along);
  },
  /** The pointer let go: the edit is on its way, and what it came to stays in sight until it is acknowledged. */
  settle: () => {
    next = null;
    along = undefined;
    useTrial.setState({ edit: null, refusal: null });
  },
  /** Nothing is tried out any more. */
  clear: () => {
    next = null;
    along = undefined;
    number += 1;
    underWay = false;
    const { edit, pattern, refusal } = useTrial.getState();
    if (edit || pattern || refusal) useTrial.setState(nothing);
  },
};
