import { X } from "lucide-react";
import type { CostumeActions } from "../api/costume";
import type { Mark } from "../api/types";
import { useDesk } from "../desk/store";
import { allLines, type ShownPiece } from "../table/shown";
import { format } from "../ui/units";
import { Card } from "./Card";

/** Marks of a piece, or the notches of one of its lines, each to be taken out. */
export function MarksCard({ actions, piece, line }: { actions: CostumeActions; piece: ShownPiece; line?: number }) {
  const unit = useDesk((s) => s.unit);
  const own: Mark[] = "drawn" in piece.doc.shape ? (piece.doc.shape.drawn.marks ?? []) : [];
  const marks = own.filter((m) => (line === undefined ? !("notch" in m) : "notch" in m && m.notch.line === line));
  if (marks.length === 0) return null;
  const length = allLines(piece.view).find((l) => l.line === line && !l.image)?.length ?? 0;
  const told = (m: Mark): [number, string] => {
    if ("notch" in m) return [m.notch.id, `${m.notch.double ? "Double notch" : "Notch"} at ${format(m.notch.at * length, unit)}`];
    return "text" in m ? [m.text.id, `“${m.text.text}”`] : [m["drill-hole"].id, "Drill hole"];
  };
  return (
    <Card title={line === undefined ? "Marks" : "Notches"}>
      {marks.map(told).map(([mark, words]) => (
        <div key={mark} className="flex items-center justify-between gap-2 py-0.5">
          <span className="truncate">{words}</span>
          <button type="button" aria-label={`Take out: ${words}`} className="rounded p-1 hover:bg-ink/5" onClick={() => actions.edit({ do: "remove-mark", piece: piece.id, mark })}>
            <X size={14} />
          </button>
        </div>
      ))}
    </Card>
  );
}
