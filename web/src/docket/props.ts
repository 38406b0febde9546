import type { CostumeActions } from "../api/costume";
import type { CostumeState } from "../api/types";
import type { DrapeSocket } from "../stand/socket";

/** What every card of the docket is about. */
export interface DocketProps {
  state: CostumeState;
  actions: CostumeActions;
  socket: DrapeSocket;
}
