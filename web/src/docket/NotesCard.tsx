import { MapPin, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Note, PieceView, Point } from "../api/types";
import { desk, selectedPiece, useDesk, useDeskOf } from "../desk/store";
import { noteLetter } from "../stand/notePins";
import { useDrapeOf } from "../stand/socket";
import { Button } from "../ui/Button";
import { Tip } from "../ui/Tip";
import { Card } from "./Card";
import type { DocketProps } from "./props";

/** What the fitting leaves to do, pinned to places of the cloth or to pieces; it stays with the costume. */
export function NotesCard({ state, actions }: DocketProps) {
  const selected = useDesk((s) => selectedPiece(s.selection));
  const [text, setText] = useState("");
  const notes = state.costume.notes ?? [];
  const name = (note: Note) => state.costume.pieces.find((p) => p.id === note.piece)?.name ?? "a piece";
  const { noting, noteAt } = useDeskOf("noting", "noteAt");
  const { status } = useDrapeOf("status");
  const piece = noteAt?.piece ?? selected ?? null;
  const open = notes.filter((n) => !n.done);
  const draped = status !== null && status.activity !== "empty";
  const pin = () => {
    if (piece === null || !text.trim()) return;
    const view = state.pattern.pieces.find((p) => p.piece === piece);
    actions.edit({ do: "pin-note", note: { id: 0, piece, at: noteAt?.at ?? middleOf(view), text: text.trim() } });
    setText("");
    useDesk.setState({ noteAt: null });
  };
  return (
    <Card title="To do">
      {notes.map((note) => (
        <div key={note.id} data-note={note.id} className="flex items-start gap-2 py-0.5">
          <input type="checkbox" aria-label={`${note.text}, done`} className="mt-1" checked={note.done ?? false} onChange={(e) => actions.edit({ do: "change-note", note: { ...note, done: e.target.checked } })} />
          <button
            type="button"
            className={`min-w-0 flex-1 text-left ${note.done ? "text-ink-soft line-through" : ""}`}
            onClick={() => {
              desk.select({ kind: "piece", piece: note.piece });
              if (!note.done) desk.flyTo({ note: note.id });
            }}
            title="Fly to its place"
          >
            {!note.done && <span className="figures mr-1.5 inline-grid h-4 w-4 place-items-center rounded-full bg-moss text-[10px] text-card">{noteLetter(open.indexOf(note))}</span>}
            {note.text}
            <span className="block text-[11px] text-ink-soft no-underline">{name(note)}</span>
          </button>
          <Tip text="Take the note off">
            <button type="button" aria-label={`Take off: ${note.text}`} className="grid h-6 w-6 shrink-0 place-items-center rounded-md hover:bg-ink/5" onClick={() => actions.edit({ do: "take-note-off", note: note.id })}>
              <Trash2 size={12} />
            </button>
          </Tip>
        </div>
      ))}
      {draped && (
        <Button className="mt-1 w-full" data-noting aria-pressed={noting} onClick={() => useDesk.setState({ noting: !noting, noteAt: null })}>
          <MapPin size={13} /> {noting ? "Click the place on the cloth" : noteAt ? "Choose another place" : "Pin a note to the cloth"}
        </Button>
      )}
      {piece === null ? (
        !noting && <p className="mt-1 text-ink-soft">{notes.length === 0 ? "Nothing to do. " : ""}Or select a piece to pin a note to it.</p>
      ) : (
        <form
          className="mt-1 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            pin();
          }}
        >
          <input
            aria-label="Note"
            data-note-text
            maxLength={200}
            key={noteAt ? `${noteAt.at.x} ${noteAt.at.y}` : "piece"}
            autoFocus={noteAt !== null}
            data-note-place={noteAt ? `${noteAt.at.x} ${noteAt.at.y}` : ""}
            placeholder={`${noteAt ? "At this place of" : "On"} ${state.costume.pieces.find((p) => p.id === piece)?.name ?? "the piece"}`}
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.stopPropagation()}
            className="h-8 min-w-0 flex-1 rounded-md border border-line bg-white px-2 outline-none focus:border-ink"
          />
          <Button type="submit" data-pin-note disabled={!text.trim()}>
            Pin
          </Button>
        </form>
      )}
    </Card>
  );
}

/** The middle of the corners of a piece, in its frame. */
function middleOf(view: PieceView | undefined): Point {
  const corners = view?.outline.map((l) => l.from) ?? [];
  const mean = (pick: (p: Point) => number) => Math.round(corners.reduce((sum, p) => sum + pick(p), 0) / Math.max(1, corners.length));
  return { x: mean((p) => p.x), y: mean((p) => p.y) };
}
