import { Anchor, RotateCcw } from "lucide-react";
import { desk, selectedPiece, useDeskOf } from "../desk/store";
import { useDrapeOf } from "../stand/socket";
import { Tip } from "../ui/Tip";
import { Card } from "./Card";
import type { DocketProps } from "./props";

/** The pieces on the stand: hold one as it is, or hang it again. */
export function PiecesCard({ state, socket }: DocketProps) {
  const { status, spans } = useDrapeOf("status", "spans");
  const { selection } = useDeskOf("selection");
  const chosen = selectedPiece(selection);
  const pieces = spans.flatMap((span) => state.costume.pieces.filter((p) => p.id === span.piece));
  if (pieces.length === 0) return null;
  const tool = "grid h-7 w-7 place-items-center rounded-md";
  return (
    <Card title="Pieces on the stand">
      {pieces.map((piece) => {
        const held = status?.held.includes(piece.id) ?? false;
        return (
          <div key={piece.id} className={`-mx-1.5 flex items-center gap-1 rounded-md px-1.5 ${chosen === piece.id ? "bg-paper" : ""}`}>
            <button type="button" onClick={() => desk.select({ kind: "piece", piece: piece.id })} className="min-w-0 flex-1 truncate py-1 text-left">
              {piece.name}
            </button>
            {(piece.wear ?? 1) > 1 && <span className="figures text-[11px] text-ink-soft">wear order {piece.wear}</span>}
            <Tip text={held ? "Let it drape again" : "Hold it as it is: other cloth drapes over it as over the body"}>
              <button type="button" aria-pressed={held} aria-label={`Hold ${piece.name}`} data-hold={piece.id} onClick={() => socket.send({ do: "hold", piece: piece.id, on: !held })} className={`${tool} ${held ? "bg-tape" : "hover:bg-paper"}`}>
                <Anchor size={14} />
              </button>
            </Tip>
            <Tip text="Hang this piece again at its station">
              <button type="button" aria-label={`Hang ${piece.name} again`} data-rehang-piece={piece.id} onClick={() => socket.send({ do: "rehang", piece: piece.id })} className={`${tool} hover:bg-paper`}>
                <RotateCcw size={14} />
              </button>
            </Tip>
          </div>
        );
      })}
    </Card>
  );
}
