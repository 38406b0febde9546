import type { Note } from "../api/types";
import { noteLetter } from "../stand/notePins";
import { type Camera, toScreen } from "./camera";
import { type ShownPattern, toTableFrame } from "./shown";

/** The notes that are open, where they are pinned to the pieces. */
export function NoteMarks({ notes, pattern, camera }: { notes: Note[]; pattern: ShownPattern; camera: Camera }) {
  return notes
    .filter((n) => !n.done)
    .map((note, k) => {
      const piece = pattern.pieces.find((p) => p.id === note.piece);
      if (!piece) return null;
      const { x, y } = toScreen(camera, toTableFrame(piece.view, note.at));
      return (
        <g key={note.id} pointerEvents="none" data-note-mark={note.id}>
          <circle cx={x} cy={y} r={8} fill="var(--color-moss)" stroke="var(--color-card)" strokeWidth={1.5} />
          <text x={x} y={y + 3.5} textAnchor="middle" className="figures fill-card text-[10px]">
            {noteLetter(k)}
          </text>
        </g>
      );
    });
}
