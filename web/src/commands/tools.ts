import {
  ArrowLeftRight,
  CircleDot,
  Egg,
  Frame,
  MoveHorizontal,
  Paintbrush,
  PencilRuler,
  ScanLine,
  Route,
  Circle,
  FlipHorizontal2,
  MousePointer2,
  Pencil,
  PenLine,
  RectangleHorizontal,
  RotateCw,
  Ruler,
  Scissors,
  Slice,
  Spline,
  SplitSquareHorizontal,
  SquarePen,
  Tally3,
  Triangle,
  Type,
  Waypoints,
} from "lucide-react";
import { desk, type Stage, type Tool, useDesk } from "../desk/store";
import type { Command, Group } from "./command";

const ALL: Stage[] = ["body", "draft", "join", "drape", "check", "deliver"];

function tool(own: Tool, name: string, key: string | undefined, group: Group, stages: Stage[], help: string, icon: Command["icon"]): Command {
  return {
    id: own,
    name,
    help,
    group,
    ...(key === undefined ? {} : { key }),
    icon,
    tool: own,
    stages,
    run: () => {
      // found by its name, a tool brings its stage along
      const { stage } = useDesk.getState();
      const home = stages[0];
      if (!stages.includes(stage) && home) desk.go(home);
      desk.take(own);
    },
  };
}

const DRAFT: Stage[] = ["draft"];

/** The tools of the table. */
export const TOOLS: Command[] = [
  tool("pick", "Pick", "P", "Everywhere", ALL, "Select and drag pieces, corners and handles", MousePointer2),
  tool("outline", "Outline", "O", "Draft", DRAFT, "Draw a piece point by point; drag at a point for a curve", SquarePen),
  tool("half", "Half", "V", "Draft", DRAFT, "Draw one half beside a fold; the other half follows", FlipHorizontal2),
  tool("freehand", "Freehand", undefined, "Draft", DRAFT, "Draw around a piece in one stroke; it becomes curves of few corners", Pencil),
  tool("band", "Band", "W", "Draft", DRAFT, "Draw a rectangle", RectangleHorizontal),
  tool("oval", "Ellipse", undefined, "Draft", DRAFT, "Draw an ellipse from corner to corner of its box", Egg),
  tool("disc", "Disc", undefined, "Draft", DRAFT, "Draw a disc from its middle", Circle),
  tool("bow", "Bow", "Y", "Draft", DRAFT, "Drag an edge into a curve; click it to curve it or to make it straight again", Spline),
  tool("through", "Through points", undefined, "Draft", DRAFT, "Click an edge, then points from its beginning to its end; Enter puts a smooth curve through them", Route),
  tool("corner", "Corner", "K", "Draft", DRAFT, "Click an edge to add a corner", Waypoints),
  tool("inside", "Line inside", "I", "Draft", DRAFT, "Draw a fold, style or stitching line on a piece", PenLine),
  tool("dart", "Dart", "A", "Draft", DRAFT, "Press on an edge and draw the dart in; on the cloth, one with two points", Triangle),
  tool("pleats", "Pleats", undefined, "Draft", DRAFT, "Click two edges; pleats are let in beside the line between", Tally3),
  tool("notch", "Notch", "N", "Draft", DRAFT, "Click an edge; on a seam both sides are notched", Slice),
  tool("hole", "Drill hole", undefined, "Draft", DRAFT, "Mark a place on the cloth", CircleDot),
  tool("text", "Text", undefined, "Draft", DRAFT, "Write on a piece", Type),
  tool("cut", "Cut apart", "X", "Draft", DRAFT, "Click from edge to edge to part a piece", Scissors),
  tool("spread", "Spread", "G", "Draft", DRAFT, "Click from edge to edge to let cloth in along the line", SplitSquareHorizontal),
  tool("turn-dart", "Turn dart", undefined, "Draft", DRAFT, "Select the point of a dart, then click where it is to open", RotateCw),
  tool("measure", "Tape", "T", "Draft", DRAFT, "Measure between two places", Ruler),
  tool("trace", "Trace", undefined, "Draft", DRAFT, "Click inside an outline of a picture under the paper to take it as a piece", ScanLine),
  tool("two-points", "Scale by two points", undefined, "Draft", DRAFT, "Click two places on a picture and tell how far apart they are", MoveHorizontal),
  tool("ruler", "Scale by a ruler", undefined, "Draft", DRAFT, "Click along a ruler in a picture; its ticks are counted", PencilRuler),
  tool("straighten", "Straighten", undefined, "Draft", DRAFT, "Click the four corners of a rectangle in a picture and tell its sides", Frame),
  tool("seam", "Seam", "S", "Join", ["join"], "Click an edge, then its partner", PenLine),
  tool("flip", "Flip", "F", "Join", ["join"], "Click a seam to sew it the other way round", ArrowLeftRight),
  tool("paint", "Paint", "M", "Join", ["join"], "Paint on a piece where it is held to the skin, or slides less", Paintbrush),
  tool("unpick", "Unpick", "U", "Join", ["join"], "Click a seam to take it out", Scissors),
];

/** Tools that work on pictures under the paper. */
export const TRACING: Tool[] = ["trace", "two-points", "ruler", "straighten"];

/** Relatives that share one button of the tray; the first is offered until another was used. */
export const RELATIVES: Tool[][] = [
  ["outline", "half", "band", "oval", "disc", "freehand"],
  ["bow", "through"],
  ["inside", "dart", "pleats", "notch", "hole", "text"],
  ["cut", "spread", "turn-dart"],
  TRACING,
];
