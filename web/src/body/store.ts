import { create } from "zustand";
import { entriesOf } from "../ui/pick";
import type { BodyChoice, CostumeState } from "../api/types";
import { withRough } from "./choice";
import type { Point3 } from "./point";
import { type BodyView, bodyView } from "./view";

export const BODY_TABS = ["measures", "pose", "tape", "contact"] as const;
export type BodyTab = (typeof BODY_TABS)[number];

interface BodyState {
  tab: BodyTab;
  /** The body on the stand as the server made it. */
  view: BodyView | null;
  /** A choice that is tried out and not kept yet. */
  trial: BodyChoice | null;
  /** The trial was sent as an edit and waits for its answer. */
  settled: boolean;
  /** Being made coarsely, because a measure moves. */
  rough: boolean;
  /** The pose a motion begins with, and how much of it is left (1 to 0). */
  motion: { from: Record<string, Point3>; share: number } | null;
  /** Key of the bone whose joint is turned. */
  joint: string | null;
  /** Index of the stand-in that is handled, and how. */
  shape: number | null;
  handling: "move" | "turn" | "scale";
  /** Points of the tape that is being laid, mm on the neutral pose; null when none is. */
  laying: Point3[] | null;
  tape: { follows: boolean; closed: boolean };
  /** The brush that makes the skin rough, mm and factor; null when it is put down. */
  roughing: { radius: number; friction: number } | null;
}

const fresh: BodyState = {
  tab: "measures",
  view: null,
  trial: null,
  settled: false,
  rough: false,
  motion: null,
  joint: null,
  shape: null,
  handling: "move",
  laying: null,
  tape: { follows: true, closed: false },
  roughing: null,
};

export const useBody = create<BodyState>(() => fresh);

export const useBodyOf = entriesOf(useBody);

export const bodyDesk = {
  reset: () => useBody.setState(fresh),
  go: (tab: BodyTab) => useBody.setState({ tab, joint: null, shape: null, laying: null, roughing: null, motion: null, trial: null, settled: false, rough: false }),
  /** Shows a choice on the stand without keeping it. */
  attempt: (trial: BodyChoice | null, rough = false) => useBody.setState({ trial, rough, settled: false }),
  /** The trial goes out as an edit; it is shown until that is answered, whatever the answer. */
  settle: (trial: BodyChoice) => useBody.setState({ trial, rough: false, settled: true }),
  layAt: (point: Point3) => useBody.setState((s) => ({ laying: s.laying && s.laying.length < 64 ? [...s.laying, point] : s.laying })),
};

/** Asks for the newest wanted body again and again, one request at a time. */
export class BodyKeeper {
  private busy = false;
  private wanted: string | null = null;
  private shown: string | null = null;
  private stopped = false;

  constructor(private readonly id: number) {}

  want(state: CostumeState) {
    const { trial, rough, motion, laying, tape } = useBody.getState();
    const next = (state.costume.tapes ?? []).length;
    // how rough the skin is changes nothing of its shape
    const asked = {
      body: withRough(trial ?? state.costume.body, []),
      quick: rough,
      ...(motion ? { from: motion.from, share: motion.share } : { share: 0 }),
      ...(laying && laying.length > 1 ? { trial: { id: 0, name: "tape", points: laying, ...tape } } : {}),
    };
    // the tapes and the hung pieces of the document matter too
    this.wanted = JSON.stringify(asked);
    const key = this.wanted + JSON.stringify([next, state.costume.tapes, state.costume.pieces.map((p) => [p.parked, p.placement?.station])]);
    void this.fetchNewest(key);
  }

  private pending: string | null = null;

  private async fetchNewest(key: string) {
    this.pending = key;
    if (this.busy) return;
    this.busy = true;
    while (this.pending !== null && this.pending !== this.shown && this.wanted && !this.stopped) {
      const [now, body]: [string, string] = [this.pending, this.wanted];
      try {
        const answer = await fetch(`/api/costumes/${this.id}/body`, { method: "POST", headers: { "content-type": "application/json" }, body });
        this.shown = now;
        if (answer.ok && !this.stopped) useBody.setState({ view: bodyView(await answer.arrayBuffer()) });
      } catch {
        await new Promise((done) => window.setTimeout(done, 1500));
      }
    }
    this.busy = false;
  }

  /** May be stopped and started again. */
  start() {
    this.stopped = false;
  }

  stop() {
    this.stopped = true;
  }
}
