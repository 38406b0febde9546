import type { Tool } from "../../desk/store";
import { cut, inside, pleats, spread, turnDart } from "./across";
import type { TableTool } from "./bench";
import { bow, corner, dart, hole, notch, text } from "./edges";
import { measure } from "./measure";
import { paint } from "./painting";
import { pen } from "./pen";
import { flip, seam, unpick } from "./sewing";
import { band, disc, freehand, oval } from "./shapes";
import { through } from "./through";
import { ruler, straighten, trace, twoPoints } from "./tracing";

/** What each tool does with the pointer; Pick drags, and is the hand's own. */
export const TABLE_TOOLS: Record<Exclude<Tool, "pick">, TableTool> = {
  outline: pen,
  half: pen,
  freehand,
  band,
  disc,
  oval,
  through,
  corner,
  bow,
  inside,
  dart,
  pleats,
  notch,
  hole,
  text,
  cut,
  spread,
  "turn-dart": turnDart,
  measure,
  paint,
  trace,
  "two-points": twoPoints,
  ruler,
  straighten,
  seam,
  flip,
  unpick,
};
