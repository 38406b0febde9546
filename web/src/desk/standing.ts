import type { Activity, Finding, FindingKind, Status } from "../api/types";

/** What the drape does, in the same words wherever it is told. */
export const ACTIVITY: Record<Activity, string> = {
  empty: "cannot hang yet",
  hung: "hung, not draped",
  closing: "sewing",
  falling: "falling",
  paused: "paused",
  "at-rest": "at rest",
};

export const isRunning = (status: Status | null) => status?.activity === "closing" || status?.activity === "falling";

export const isDraped = (status: Status | null) => status?.activity === "at-rest" || status?.activity === "paused" || isRunning(status);

const CROSSINGS: FindingKind[] = ["crosses-body", "crosses-cloth"];
const OF_THE_DRAPE: FindingKind[] = ["open-seams", "inside-body", "overstretched"];

const first = (status: Status | null, kinds: FindingKind[]): Finding | undefined => status?.findings.find((f) => kinds.includes(f.kind));

export interface Words {
  text: string;
  bad: boolean;
}

/** How the drape stands: what is the matter with it when it rests, what it does otherwise. */
export function drapeWords(status: Status | null): Words {
  const matter = status?.activity === "at-rest" || status?.activity === "paused" ? first(status, OF_THE_DRAPE) : undefined;
  return { text: matter?.words ?? ACTIVITY[status?.activity ?? "empty"], bad: matter !== undefined || status?.activity === "empty" };
}

/** What was found when crossings were last looked for, if that still holds. */
export function checkWords(status: Status | null, everChecked: boolean): Words {
  const crossing = first(status, CROSSINGS);
  if (crossing) return { text: crossing.words, bad: true };
  const stale = first(status, ["not-checked"]);
  if (!isDraped(status) || (stale && !everChecked)) return { text: "not checked", bad: false };
  if (stale) return { text: stale.words, bad: true };
  const passes = first(status, ["crosses-left-out"]);
  return { text: passes?.words ?? "no crossings", bad: passes !== undefined };
}

/** Whether it can be delivered as it is: the gravest fault, or "ready". */
export function deliverWords(status: Status | null): Words {
  if (!isDraped(status)) return { text: "—", bad: false };
  const fault = status?.findings.find((f) => f.is_fault) ?? first(status, ["not-checked"]);
  return { text: fault?.words ?? "ready", bad: fault !== undefined && !isRunning(status) };
}
