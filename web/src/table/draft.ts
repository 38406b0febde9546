import { create } from "zustand";
import type { PaintKind, Pleat, Purpose, SpreadBy } from "../api/types";

/** What a new inside line is for; a fold has its angle beside it. */
export type NewPurpose = "style-line" | "stitching" | "dart-leg" | "fold";

/** With what a map is painted. */
export type PaintWith = "brush" | "rub-out" | "gradient";

/** What the drafting tools do when they are used next. Lengths in mm, angles in degrees. */
interface Draft {
  purpose: NewPurpose;
  foldAngle: number;
  dartWidth: number;
  /** Closed share of a dart that is turned, percent. */
  dartShare: number;
  gathers: boolean;
  spreadAmount: number;
  spreadBy: SpreadBy;
  pleat: Pleat;
  pleats: number;
  pleatDepth: number;
  pleatSpacing: number;
  sewCut: boolean;
  doubleNotch: boolean;
  /** Notches are put on both sides of a seam. */
  bothSides: boolean;
  text: string;
  /** Corners within this distance of the ones that are moved go along; 0 for none. */
  softReach: number;
  /** The map that is painted, with what, and the brush: mm, percent of its radius, percent. */
  paintKind: PaintKind;
  paintWith: PaintWith;
  brush: number;
  brushSoft: number;
  brushValue: number;
  /** Nothing snaps. */
  free: boolean;
  /** Snaps to the ruled paper. */
  ruled: boolean;
}

export const useDraft = create<Draft>(() => ({
  purpose: "style-line",
  foldAngle: 90,
  dartWidth: 30,
  dartShare: 100,
  gathers: false,
  spreadAmount: 50,
  spreadBy: "hinge",
  pleat: "knife",
  pleats: 1,
  pleatDepth: 30,
  pleatSpacing: 60,
  sewCut: true,
  doubleNotch: false,
  bothSides: true,
  text: "Straight grain",
  softReach: 0,
  paintKind: "skin",
  paintWith: "brush",
  brush: 30,
  brushSoft: 50,
  brushValue: 100,
  free: false,
  ruled: false,
}));

export function purposeOf({ purpose, foldAngle }: Pick<Draft, "purpose" | "foldAngle">): Purpose {
  return purpose === "fold" ? { fold: { angle: foldAngle } } : purpose;
}
