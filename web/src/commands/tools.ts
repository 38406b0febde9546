import { ArrowLeftRight, MousePointer2, PenLine, RectangleHorizontal, Scissors, Spline, SquarePen, Waypoints } from "lucide-react";
import { desk, type Stage, type Tool, useDesk } from "../desk/store";
import type { Command, Group } from "./command";

const ALL: Stage[] = ["body", "draft", "join", "drape", "check", "deliver"];

function tool(own: Tool, name: string, key: string, group: Group, stages: Stage[], help: string, icon: Command["icon"]): Command {
  return {
    id: own,
    name,
    help,
    group,
    key,
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

/** The tools of the table. */
export const TOOLS: Command[] = [
  tool("pick", "Pick", "P", "Everywhere", ALL, "Select and drag pieces, corners and handles", MousePointer2),
  tool("outline", "Outline", "O", "Draft", ["draft"], "Draw a piece corner by corner", SquarePen),
  tool("band", "Band", "W", "Draft", ["draft"], "Draw a rectangle", RectangleHorizontal),
  tool("corner", "Corner", "K", "Draft", ["draft"], "Click an edge to add a corner", Waypoints),
  tool("bow", "Bow", "Y", "Draft", ["draft"], "Click an edge to curve it, or to make it straight again", Spline),
  tool("seam", "Seam", "S", "Join", ["join"], "Click an edge, then its partner", PenLine),
  tool("flip", "Flip", "F", "Join", ["join"], "Click a seam to sew it the other way round", ArrowLeftRight),
  tool("unpick", "Unpick", "U", "Join", ["join"], "Click a seam to take it out", Scissors),
];
