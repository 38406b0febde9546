/** Something that was begun and is not finished: a drag, an outline, a tape. Keys reach it through the registry of commands. */
export interface Gesture {
  /** Whether it is under way. */
  active: () => boolean;
  /** Forgets it. */
  cancel?: () => void;
  /** Takes it as it is. */
  finish?: () => void;
  /** Takes a number that is begun to be typed. */
  type?: (digit: string) => void;
  /** Takes its last step back. */
  back?: () => void;
}

const all = new Set<Gesture>();

/** Makes a gesture known; returns how it is forgotten. */
export function known(gesture: Gesture): () => void {
  all.add(gesture);
  return () => void all.delete(gesture);
}

/** The gesture under way that can do this, the last begun first. */
export const underWay = <W extends "cancel" | "finish" | "back" | "type">(what: W): Gesture[W] => [...all].reverse().find((g) => g[what] && g.active())?.[what];
