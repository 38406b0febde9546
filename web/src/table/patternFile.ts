import { create } from "zustand";
import type { CostumeActions } from "../api/costume";
import { postFile, saidOf } from "../api/http";
import type { CostumeState, ReadPieces } from "../api/types";
import { desk } from "../desk/store";
import { notify } from "../ui/notices";
import { besideAll } from "./shown";

/** What the last file of each costume held and was not understood; the docket shows other cards in between. */
export const useLeftOut = create<Record<number, string[]>>(() => ({}));

/** Lays the pieces of an SVG or DXF file beside all others. */
export async function readPieces(file: File, state: CostumeState, actions: CostumeActions) {
  const at = besideAll(state);
  try {
    const found = await postFile<ReadPieces>(`/api/patterns?name=${encodeURIComponent(file.name)}&x=${at.x}&y=${at.y}`, file);
    useLeftOut.setState({ [state.id]: found.left_out });
    actions.edit(found.edit);
    notify({ item: file.name, reason: `${found.pieces} ${found.pieces === 1 ? "piece" : "pieces"} read`, remedy: found.left_out.length > 0 ? "What was not understood is listed in the docket" : "Nothing was left out" }, { good: true });
    window.setTimeout(desk.fitAll, 400);
  } catch (error) {
    notify(saidOf(error, { item: file.name, reason: "could not be read", remedy: "Try again when the server answers" }));
  }
}
