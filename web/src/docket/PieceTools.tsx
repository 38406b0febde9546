import { useState } from "react";
import type { CostumeActions } from "../api/costume";
import type { Arrangement, CostumeState, Edit } from "../api/types";
import { selectedPieces, useDesk, useDeskOf } from "../desk/store";
import { twinBeside } from "../table/find";
import type { ShownPiece } from "../table/shown";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
  piece: ShownPiece;
}

const LINES: [Arrangement, string][] = [
  ["left", "Left sides"],
  ["centre", "Centres"],
  ["right", "Right sides"],
  ["top", "Tops"],
  ["middle", "Middles"],
  ["bottom", "Bottoms"],
  ["spread-across", "Even gaps across"],
  ["spread-up", "Even gaps up"],
];

/** What can be done with the selected piece, or with several. */
export function PieceTools({ state, actions, piece }: Props) {
  const count = useDesk((s) => selectedPieces(s).length);
  return count > 1 ? <Several actions={actions} state={state} /> : <One state={state} actions={actions} piece={piece} />;
}

function One({ state, actions, piece }: Props) {
  const { unit } = useDeskOf("unit");
  const [allowance, setAllowance] = useState(10);
  const { id, doc, view } = piece;
  const twin = view.twin_of !== null;
  const folded = doc.cut?.on_fold !== undefined;
  const at = state.costume.pieces.findIndex((p) => p.id === id);
  const scaled = (width: number, height: number) => actions.edit({ do: "scale-piece", piece: id, x: width / view.width, y: height / view.height });
  const allAround = (): Edit => ({
    do: "batch",
    edits: view.outline.filter((l) => !l.image && l.line !== doc.cut?.on_fold).map((l): Edit => ({ do: "finish-line", piece: id, line: l.line, finish: { allowance: { width: allowance, corner: "pointed" } } })),
  });
  return (
    <Card title="Shape">
      <NumberField label="Width" value={view.width} unit={unit} onChange={(w) => scaled(w, view.height)} />
      <NumberField label="Height" value={view.height} unit={unit} onChange={(h) => scaled(view.width, h)} />
      <NumberField label="Scale" value={100} unit={unit} plain="%" onChange={(p) => actions.edit({ do: "scale-piece", piece: id, x: p / 100, y: p / 100 })} />
      <NumberField label="Turned by" value={view.angle} unit={unit} plain="°" onChange={(angle) => actions.edit({ do: "turn-piece", piece: id, angle })} />
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => actions.edit({ do: "mirror-piece", piece: id })}>Turn over</Button>
        {twin ? (
          <Button onClick={() => actions.edit({ do: "separate-twin", piece: id })}>Separate from its twin</Button>
        ) : (
          <Button onClick={() => actions.edit({ do: "add-twin", piece: id, at: twinBeside(piece) })}>Add a twin</Button>
        )}
        {folded && <Button onClick={() => actions.edit({ do: "open-fold", piece: id })}>Open the fold</Button>}
        <Button onClick={() => actions.edit({ do: "lock-pieces", pieces: [id], locked: !doc.locked })}>{doc.locked ? "Unlock" : "Lock"}</Button>
        <Button disabled={at === state.costume.pieces.length - 1} onClick={() => actions.edit({ do: "order-piece", piece: id, to: state.costume.pieces.length })}>
          To the top
        </Button>
        <Button disabled={at === 0} onClick={() => actions.edit({ do: "order-piece", piece: id, to: 0 })}>
          To the bottom
        </Button>
      </div>
      <div className="mt-2">
        <NumberField label="Allowance" value={allowance} unit={unit} onChange={setAllowance} />
        <Button className="mt-1 w-full" onClick={() => actions.edit(allAround())}>
          Allowance all around
        </Button>
      </div>
      <NumberField label="Cut" value={doc.cut?.count ?? 1} unit={unit} plain="×" step={1} onChange={(count) => actions.edit({ do: "set-cut", piece: id, cut: { ...doc.cut, count: Math.max(1, Math.round(count)) } })} />
    </Card>
  );
}

function Several({ actions, state }: Pick<Props, "actions" | "state">) {
  const pieces = selectedPieces(useDeskOf("selection", "also"));
  const docs = state.costume.pieces.filter((p) => pieces.includes(p.id));
  const grouped = docs.every((p) => p.group !== undefined && p.group === docs[0]?.group);
  const locked = docs.every((p) => p.locked);
  return (
    <Card title={`${pieces.length} pieces`}>
      <div className="flex flex-wrap gap-2">
        {LINES.map(([how, name]) => (
          <Button key={how} onClick={() => actions.edit({ do: "arrange", pieces, how })}>
            {name}
          </Button>
        ))}
        <Button onClick={() => actions.edit({ do: "group-pieces", pieces, together: !grouped })}>{grouped ? "Part the group" : "Group"}</Button>
        <Button onClick={() => actions.edit({ do: "lock-pieces", pieces, locked: !locked })}>{locked ? "Unlock" : "Lock"}</Button>
      </div>
    </Card>
  );
}
