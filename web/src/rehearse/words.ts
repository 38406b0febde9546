import type { FrameReport, RehearsalRow } from "../api/types";

/** Strain that 99 of 100 triangles stay below in a frame without remark. */
export const STRAINED = 0.08;
/** Slip along the skin that is marked, m/s. */
export const SLIPS = 0.25;

/** What stands out in a frame, the gravest first. */
export function markOf(report: FrameReport): "fault" | "open" | "strained" | "slips" | null {
  if (report.cause) return "fault";
  if (report.open_pairs > 0) return "open";
  if (report.strain_p99 > STRAINED) return "strained";
  return report.slip > SLIPS ? "slips" : null;
}

/** A frame as it is counted: 0 is the first of the motion. */
export const frameName = (frame: number, leadIn: number) => (frame < leadIn ? `lead-in ${frame - leadIn}` : `frame ${frame - leadIn}`);

export function stateWords(row: RehearsalRow): string {
  const bad = row.bad === 0 ? "" : ` · ${row.bad} ${row.bad === 1 ? "fault" : "faults"}`;
  switch (row.state) {
    case "waiting":
      return row.done > 0 ? `waits at frame ${row.done - row.lead_in}` : "waits for a worker";
    case "running":
      return row.done === row.begun_at ? "is being hung" : `${Math.floor((100 * row.done) / row.frames)} % · ${left(row)}${bad}`;
    case "done":
      return `${row.frames - row.lead_in} frames${bad}`;
    case "cancelled":
      return `stopped at frame ${row.done - row.lead_in}${bad}`;
    default:
      return "failed";
  }
}

/** How the newest rehearsal stands. */
export function rehearseWords(rows: RehearsalRow[] | undefined): { text: string; bad: boolean } {
  const [newest] = rows ?? [];
  if (!newest) return { text: "no motion yet", bad: false };
  return { text: `${newest.name} · ${stateWords(newest)}`, bad: newest.bad > 0 || newest.state === "failed" };
}

/** The remaining time by the frames made so far. */
function left(row: RehearsalRow): string {
  const made = row.done - row.begun_at;
  const seconds = (row.seconds / Math.max(1, made)) * (row.frames - row.done);
  if (seconds < 55) return `${Math.max(1, Math.round(seconds))} s left`;
  return `${Math.round(seconds / 60) || 1} min left`;
}
