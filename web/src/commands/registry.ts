import { CLIPBOARD } from "./clipboard";
import { GESTURES } from "./gestures";
import { GENERAL } from "./general";
import { SELECTION } from "./selection";
import { TOOLS } from "./tools";

/** Every tool and command: the tray, the sheet of shortcuts, the search and the keyboard all read it. */
export const COMMANDS = [...GESTURES, ...TOOLS, ...GENERAL, ...SELECTION, ...CLIPBOARD];
