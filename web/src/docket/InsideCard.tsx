import type { CostumeActions } from "../api/costume";
import type { Purpose } from "../api/types";
import { desk, useDesk } from "../desk/store";
import type { ShownPiece } from "../table/shown";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";

type Key = "style-line" | "stitching" | "dart-leg" | "fold" | "placement";

const USES: [Key, string][] = [
  ["style-line", "style line"],
  ["stitching", "stitching line"],
  ["fold", "fold line, pressed"],
  ["dart-leg", "dart leg"],
];

const keyOf = (purpose: Purpose): Key => (typeof purpose === "string" ? purpose : "fold" in purpose ? "fold" : "placement");

/** A line inside a piece: what it is for, and its way on to the edge. */
export function InsideCard({ actions, piece, line }: { actions: CostumeActions; piece: ShownPiece; line: number }) {
  const unit = useDesk((s) => s.unit);
  const path = piece.view.inside.find((p) => p.lines.some((l) => l.line === line && !l.image));
  if (!path) return null;
  const on = { piece: piece.id, path: path.path };
  const { purpose } = path;
  const use = (key: Key) => key !== "placement" && actions.edit({ do: "set-purpose", ...on, purpose: key === "fold" ? { fold: { angle: 90 } } : key });
  return (
    <Card title="Line inside">
      <Choice label="Use" value={keyOf(purpose)} options={USES} none="placement of a piece" onChange={use} />
      {typeof purpose === "object" && "fold" in purpose && <NumberField label="Pressed to" value={purpose.fold.angle} unit={unit} plain="°" onChange={(angle) => actions.edit({ do: "set-purpose", ...on, purpose: { fold: { angle } } })} />}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button onClick={() => actions.edit({ do: "extend-inside", ...on, end: "from" })}>Its beginning to the edge</Button>
        <Button onClick={() => actions.edit({ do: "extend-inside", ...on, end: "to" })}>Its end to the edge</Button>
        <Button
          onClick={() => {
            actions.edit({ do: "remove-inside", ...on });
            desk.select({ kind: "piece", piece: piece.id });
          }}
        >
          Remove line
        </Button>
      </div>
    </Card>
  );
}
