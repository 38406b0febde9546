import type { Costume, Edit, Point } from "../api/types";

const plus = (p: Point, d: Point): Point => ({ x: p.x + d.x, y: p.y + d.y });

/**
 * Shows an edit before it is acknowledged. Only moves are shown ahead; all rules and every other edit are the server's.
 */
export function preview(costume: Costume, edit: Edit | null): Costume {
  if (!edit || !("piece" in edit)) return costume;
  const pieces = costume.pieces.map((piece) => {
    if (piece.id !== edit.piece) return piece;
    switch (edit.do) {
      case "move-piece":
        return { ...piece, at: edit.at };
      case "move-corner": {
        const i = piece.corners.findIndex((c) => c.id === edit.corner);
        const corner = piece.corners[i];
        if (!corner) return piece;
        const step = { x: edit.to.x - corner.at.x, y: edit.to.y - corner.at.y };
        const before = (i + piece.corners.length - 1) % piece.corners.length;
        const corners = piece.corners.map((c, k) => {
          let bow = c.bow;
          if (bow && k === i) bow = { ...bow, leave: plus(bow.leave, step) };
          if (bow && k === before) bow = { ...bow, arrive: plus(bow.arrive, step) };
          return { ...c, bow, at: k === i ? edit.to : c.at };
        });
        return { ...piece, corners };
      }
      case "move-handle": {
        const corners = piece.corners.map((c) => (c.id === edit.edge && c.bow ? { ...c, bow: { ...c.bow, [edit.handle]: edit.to } } : c));
        return { ...piece, corners };
      }
      default:
        return piece;
    }
  });
  return { ...costume, pieces };
}
