import { get } from "../api/http";
import type { Costume, Edit } from "../api/types";
import { desk, selectedPieces, useDesk } from "../desk/store";
import { notify } from "../ui/notices";
import type { Command, Scene } from "./command";

/** Where copied pieces are kept, so that they can be pasted into another costume too. */
const KEY = "ourlet.clip";

/** How far pasted pieces lie from those that were copied, mm. */
const BESIDE = 60;

async function copy({ state }: Scene) {
  const pieces = selectedPieces(useDesk.getState());
  try {
    const clip = await get<Costume>(`/api/costumes/${state.id}/clip?pieces=${pieces.join(",")}`);
    localStorage.setItem(KEY, JSON.stringify(clip));
    notify({ item: pieces.length === 1 ? (clip.pieces[0]?.name ?? "The piece") : `${pieces.length} pieces`, reason: "copied", remedy: "Paste with Ctrl V, here or in another costume" }, { good: true });
  } catch {
    notify({ item: "The pieces", reason: "could not be copied", remedy: "Try again when the server answers" });
  }
}

function kept(): Costume | null {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "null") as Costume | null;
  } catch {
    return null;
  }
}

function paste({ actions }: Scene) {
  const clip = kept();
  if (!clip) return;
  const edit: Edit = { do: "paste", clip, by: { x: BESIDE, y: -BESIDE } };
  actions.edit(edit);
}

const chosen = () => selectedPieces(useDesk.getState()).length > 0;

export const CLIPBOARD: Command[] = [
  { id: "copy", name: "Copy pieces", help: "The selected pieces with their seams, for this or another costume", group: "Selection", key: "Ctrl C", enabled: chosen, run: (scene) => void copy(scene) },
  { id: "paste", name: "Paste pieces", help: "What was copied, beside where it lay", group: "Selection", key: "Ctrl V", enabled: () => localStorage.getItem(KEY) !== null, run: paste },
  {
    id: "select-all",
    name: "Select all pieces",
    help: "Of this costume",
    group: "Selection",
    key: "Ctrl A",
    enabled: ({ state }) => state.costume.pieces.length > 0,
    run: ({ state }) => desk.selectAll(state.costume.pieces.map((p) => ({ kind: "piece", piece: p.id }))),
  },
  {
    id: "select-alike",
    name: "Select pieces of this fabric",
    help: "All that are cut from the same cloth",
    group: "Selection",
    enabled: chosen,
    run: ({ state }) => {
      const { selection } = useDesk.getState();
      const fabric = state.costume.pieces.find((p) => selection?.kind === "piece" && p.id === selection.piece)?.fabric;
      desk.selectAll(state.costume.pieces.filter((p) => p.fabric === fabric).map((p) => ({ kind: "piece", piece: p.id })));
    },
  },
];
