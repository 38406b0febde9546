import type { Plus } from "lucide-react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState } from "../api/types";
import type { Stage, Tool } from "../desk/store";
import type { DrapeSocket } from "../stand/socket";

/** What a command works on. */
export interface Scene {
  state: CostumeState;
  actions: CostumeActions;
  socket: DrapeSocket;
}

export type Group = "Everywhere" | "Draft" | "Join" | "Stand" | "Selection";

/** Something that can be done, by whichever way: tray, key, sheet or search. */
export interface Command {
  id: string;
  name: string;
  /** What it does, in a line. */
  help: string;
  group: Group;
  /** As it stands on the sheet: "P", "Ctrl Shift Z", "Arrow left". */
  key?: string;
  icon?: typeof Plus;
  /** A tool of the table, and the stages whose tray offers it. */
  tool?: Tool;
  stages?: Stage[];
  /** Whether it can be done now; always, when left out. */
  enabled?: (scene: Scene) => boolean;
  run: (scene: Scene) => void;
  /** What stands on the sheet in place of the key and the name; false for what is there already. */
  sheet?: [key: string, name: string] | false;
  /** Not offered by the search, because it needs a place: a step with the arrows, say. */
  keyOnly?: boolean;
}
