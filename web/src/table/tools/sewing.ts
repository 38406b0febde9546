import { desk, useDesk } from "../../desk/store";
import { notify } from "../../ui/notices";
import { seamAt } from "../find";
import type { TableTool } from "./bench";

/** Joins the edge that is clicked to the one that was clicked before. */
export const seam: TableTool = {
  down: ({ pattern, actions }, { hit }) => {
    if (!hit.piece || hit.line === null) return useDesk.setState({ seamStart: null });
    const start = useDesk.getState().seamStart;
    const taken = seamAt(pattern.seams, hit.piece.id, hit.line);
    if (!start && taken) return desk.select({ kind: "seam", seam: taken.seam });
    if (!start) return useDesk.setState({ seamStart: { piece: hit.piece.id, line: hit.line }, selection: null });
    actions.edit({ do: "join", a: start, b: { piece: hit.piece.id, line: hit.line } });
    useDesk.setState({ seamStart: null });
  },
};

const ofSeam = (make: (seam: number) => { do: "flip-seam" | "unpick"; seam: number }): TableTool => ({
  down: ({ pattern, actions }, { hit }) => {
    if (!hit.piece || hit.line === null) return;
    const found = seamAt(pattern.seams, hit.piece.id, hit.line);
    if (found) actions.edit(make(found.seam));
    else notify({ item: `${hit.piece.doc.name}, this edge`, reason: "is not sewn", remedy: "Click an edge with a letter tag" });
  },
});

export const flip = ofSeam((seam) => ({ do: "flip-seam", seam }));
export const unpick = ofSeam((seam) => ({ do: "unpick", seam }));
