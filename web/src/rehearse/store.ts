import { create } from "zustand";
import type { CauseShown, FrameReport, RehearsalRow } from "../api/types";
import { entriesOf } from "../ui/pick";

interface RehearseState {
  /** The rehearsal that is looked at. */
  chosen: number | null;
  row: RehearsalRow | null;
  /** What was found in its frames so far, the lead-in first. */
  reports: FrameReport[];
  /** All causes of faults in words. */
  causes: CauseShown[];
  /** The frame on the stand, counted with the lead-in. */
  frame: number;
  playing: boolean;
  loop: boolean;
  /** Shows every new frame as it is stored. */
  following: boolean;
  /** Pictures in the last second of playing. */
  rate: number;
}

const fresh: RehearseState = { chosen: null, row: null, reports: [], causes: [], frame: 0, playing: false, loop: true, following: false, rate: 0 };

export const useRehearse = create<RehearseState>(() => fresh);

export const useRehearseOf = entriesOf(useRehearse);

/** What was found in the frame on the stand. */
export const shownReport = ({ reports, frame }: Pick<RehearseState, "reports" | "frame">): FrameReport | undefined => reports[frame];

/** Why a frame fails, and what is tried against it. */
export const causeOf = ({ causes }: Pick<RehearseState, "causes">, report: FrameReport | undefined) => causes.find((c) => c.cause === report?.cause);

export const isWorking = (row: RehearsalRow | null | undefined) => row?.state === "waiting" || row?.state === "running";

export const rehearse = {
  reset: () => useRehearse.setState(fresh),
  choose: (row: RehearsalRow | null) => useRehearse.setState({ ...fresh, loop: useRehearse.getState().loop, chosen: row?.id ?? null, row, frame: row?.lead_in ?? 0, following: isWorking(row) }),
  /** Goes to a frame that is stored; one that plays stops there. */
  seek: (frame: number) => useRehearse.setState((s) => ({ frame: within(s, frame), playing: false, following: false })),
  step: (by: number) => useRehearse.setState((s) => ({ frame: within(s, s.frame + by), playing: false, following: false })),
  play: (on: boolean) =>
    useRehearse.setState((s) => {
      const end = (s.row?.done ?? 0) - 1;
      // from the end it begins again
      return { playing: on && end > 0, following: false, frame: on && s.frame >= end ? firstOf(s) : s.frame };
    }),
  /** The next fault after the frame on the stand, or the first one. */
  nextFault: () =>
    useRehearse.setState((s) => {
      const bad = s.reports.flatMap((r, k) => (r.cause ? [k] : []));
      const next = bad.find((k) => k > s.frame) ?? bad[0];
      return next === undefined ? {} : { frame: next, playing: false, following: false };
    }),
};

/** The first frame of the motion, as soon as there is one. */
export const firstOf = (s: Pick<RehearseState, "row">) => Math.min(s.row?.lead_in ?? 0, Math.max(0, (s.row?.done ?? 0) - 1));

const within = (s: RehearseState, frame: number) => Math.max(0, Math.min((s.row?.done ?? 1) - 1, Math.round(frame)));
