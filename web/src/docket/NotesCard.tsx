import { Trash2 } from "lucide-react";
import { useState } from "react";
import type { Note } from "../api/types";
import { selectedPiece, useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { Tip } from "../ui/Tip";
import { Card } from "./Card";
import type { DocketProps } from "./props";

/** What the fitting leaves to do, pinned to pieces; it stays with the costume. */
export function NotesCard({ state, actions }: DocketProps) {
  const selected = useDesk((s) => selectedPiece(s.selection));
  const [text, setText] = useState("");
  const notes = state.costume.notes ?? [];
  const name = (note: Note) => state.costume.pieces.find((p) => p.id === note.piece)?.name ?? "a piece";
  const piece = selected ?? null;
  const pin = () => {
    if (piece === null || !text.trim()) return;
    actions.edit({ do: "pin-note", note: { id: 0, piece, at: { x: 0, y: 0 }, text: text.trim() } });
    setText("");
  };
  return (
    <Card title="To do">
      {notes.map((note) => (
        <div key={note.id} data-note={note.id} className="flex items-start gap-2 py-0.5">
          <input type="checkbox" aria-label={`${note.text}, done`} className="mt-1" checked={note.done ?? false} onChange={(e) => actions.edit({ do: "change-note", note: { ...note, done: e.target.checked } })} />
          <button type="button" className={`min-w-0 flex-1 text-left ${note.done ? "text-ink-soft line-through" : ""}`} onClick={() => useDesk.setState({ selection: { kind: "piece", piece: note.piece }, also: [] })} title="Select its piece">
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
      {piece === null ? (
        <p className="text-ink-soft">{notes.length === 0 ? "Nothing. " : ""}Select a piece to pin a note to it.</p>
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
            placeholder={`On ${state.costume.pieces.find((p) => p.id === piece)?.name ?? "the piece"}`}
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
