import { underWay } from "../pointer/gesture";
import type { Command } from "./command";

const of = (what: "cancel" | "finish" | "back", name: string, key: string, id = what as string): Command => ({
  id: `gesture-${id}`,
  name,
  help: "While something is begun",
  group: "Everywhere",
  key,
  sheet: false,
  enabled: () => underWay(what) !== undefined,
  run: () => underWay(what)?.(),
  keyOnly: true,
});

/** Signs with which a number begins. */
const NUMBERS = [..."0123456789.-"];

const typed = (digit: string): Command => ({
  id: `gesture-type-${digit}`,
  name: "Type a number at the pointer",
  help: "While something is drawn: length, angle or place of the next point",
  group: "Draft",
  key: digit,
  sheet: digit === "0" ? ["0 … 9", "Type length, angle or place of the next point"] : false,
  enabled: () => underWay("type") !== undefined,
  run: () => underWay("type")?.(digit),
  keyOnly: true,
});

/** What the keys do to something that was begun; before all other commands of the same keys. */
export const GESTURES: Command[] = [
  of("cancel", "Forget what was begun", "Escape"),
  of("finish", "Take it as it is", "Enter"),
  of("back", "Take its last step back", "Backspace"),
  of("back", "Take its last step back", "Delete", "back-too"),
  ...NUMBERS.map(typed),
];
