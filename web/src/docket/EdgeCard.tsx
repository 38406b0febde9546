import { useState } from "react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState, Edit, Finish, LineEnd } from "../api/types";
import { useDeskOf } from "../desk/store";
import { purposeOf, useDraft } from "../table/draft";
import { seamAt } from "../table/find";
import { allLines, lineTitle, type ShownPiece } from "../table/shown";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card, Row } from "./Card";
import { HeldChoice } from "./HeldChoice";

type FinishKey = "none" | "stay-tape" | "elastic";
const FINISHES: [FinishKey, string][] = [
  ["none", "none"],
  ["stay-tape", "stay tape, keeps its length"],
  ["elastic", "elastic, gathers"],
];
const finishKey = (finish: Finish | null): FinishKey => (finish === null ? "none" : typeof finish === "object" ? "elastic" : "stay-tape");
const finishOf = (key: FinishKey): Finish | null => (key === "none" ? null : key === "elastic" ? { elastic: { length: 70 } } : key);

const CORNERS: ["pointed" | "square" | "mirrored", string][] = [
  ["pointed", "pointed"],
  ["square", "square"],
  ["mirrored", "folded back"],
];

interface Props {
  state: CostumeState;
  actions: CostumeActions;
  piece: ShownPiece;
  line: number;
}

/** An edge: its measures, its shape, and what lies along it. */
export function EdgeCard({ state, actions, piece, line: id }: Props) {
  const { unit } = useDeskOf("unit");
  const [end, setEnd] = useState<LineEnd>("to");
  const [parts, setParts] = useState(2);
  const [aside, setAside] = useState(15);
  const [ease, setEase] = useState(10);
  const line = allLines(piece.view).find((l) => l.line === id && !l.image);
  if (!line) return null;
  const seam = seamAt(state.pattern.seams, piece.id, id);
  const on = { piece: piece.id, line: id };
  const around = piece.view.outline.filter((l) => l.own_node);
  const corner = (node: number) => around.findIndex((l) => l.node === node) + 1;
  // what is shown turned round has its ends the other way in the document
  const first: LineEnd = line.turned ? "to" : "from";
  const ends: [LineEnd, string][] = [
    [first, corner(line.node) > 0 ? `corner ${corner(line.node)}` : "its beginning"],
    [first === "to" ? "from" : "to", corner(line.end) > 0 ? `corner ${corner(line.end)}` : "its end"],
  ];
  const angle = (Math.atan2(line.to.y - line.from.y, line.to.x - line.from.x) * 180) / Math.PI;
  return (
    <Card title={lineTitle(piece.view, id)}>
      <NumberField label="Length" value={line.length} unit={unit} onChange={(length) => actions.edit({ do: "set-length", ...on, length, moves: end })} />
      <NumberField label="Angle" value={angle} unit={unit} plain="°" onChange={(degrees) => actions.edit({ do: "set-angle", ...on, degrees: line.turned ? degrees + 180 : degrees, moves: end })} />
      <Choice label="What moves" value={end} options={ends} onChange={setEnd} />
      <Row name="Shape" value={line.handles ? "curve" : "straight"} />
      <Row name="Sewn" value={seam ? `seam ${seam.tag}` : "free"} />
      <div className="mt-1 mb-2 flex flex-wrap gap-2">
        <Button onClick={() => actions.edit({ do: line.handles ? "straighten-line" : "curve-line", ...on })}>{line.handles ? "Make straight" : "Make a curve"}</Button>
        <Button onClick={() => actions.edit({ do: "level-line", ...on, plumb: false, moves: end })}>Level</Button>
        <Button onClick={() => actions.edit({ do: "level-line", ...on, plumb: true, moves: end })}>Plumb</Button>
        <Button onClick={() => actions.edit({ do: "split-line", ...on, fraction: 0.5, by_length: true })}>Corner in the middle</Button>
      </div>
      <div className="flex items-end gap-2">
        <div className="grow">
          <NumberField label="Equal parts" value={parts} unit={unit} plain="" step={1} narrow onChange={(n) => setParts(Math.min(100, Math.max(2, Math.round(n))))} />
        </div>
        <Button onClick={() => actions.edit({ do: "divide-line", ...on, parts })}>Divide</Button>
      </div>
      <div className="flex items-end gap-2">
        <div className="grow">
          <NumberField label="Ease along it" value={ease} unit={unit} narrow onChange={setEase} />
        </div>
        <Button onClick={() => actions.edit({ do: "add-ease", ...on, amount: ease })}>Add</Button>
      </div>
      <div className="flex items-end gap-2">
        <div className="grow">
          <NumberField label="Parallel at" value={aside} unit={unit} narrow onChange={setAside} />
        </div>
        <Button onClick={() => actions.edit({ do: "add-parallel", ...on, distance: aside, purpose: purposeOf(useDraft.getState()) })}>Draw</Button>
      </div>
      <Along state={state} actions={actions} piece={piece} id={id} />
    </Card>
  );
}

/** What lies along the whole edge: cloth beyond it, and what holds it. */
function Along({ state, actions, piece, id }: Omit<Props, "line"> & { id: number }) {
  const { unit } = useDeskOf("unit");
  const [corners, setCorners] = useState<(typeof CORNERS)[number][0]>("pointed");
  const line = allLines(piece.view).find((l) => l.line === id && !l.image);
  if (!line) return null;
  const laid = (next: Finish | null): Edit => ({ do: "finish-line", piece: piece.id, line: id, finish: next });
  const finish = (next: Finish | null) => actions.edit(laid(next));
  // taking off takes off all that holds: what is to stay is laid again
  const instead = (next: Finish | null, stays: Finish | null) => (next === null && stays !== null ? actions.edit({ do: "batch", edits: [laid(null), laid(stays)] }) : finish(next));
  const elastic = line.finish !== null && typeof line.finish === "object" && "elastic" in line.finish ? line.finish.elastic.length : null;
  return (
    <div className="mt-2 border-edge border-t pt-2">
      <NumberField label="Seam allowance" value={line.allowance ?? 0} unit={unit} onChange={(width) => finish({ allowance: { width, corner: corners } })} />
      <Choice label="Its corners" value={corners} options={CORNERS} onChange={(c) => (setCorners(c), line.allowance ? finish({ allowance: { width: line.allowance, corner: c } }) : undefined)} />
      <NumberField label="Hem" value={line.hem ?? 0} unit={unit} onChange={(width) => finish({ hem: { width } })} />
      <Choice label="Tape" value={finishKey(line.finish)} options={FINISHES} onChange={(key) => instead(finishOf(key), line.held)} />
      {elastic !== null && <NumberField label="Elastic" value={elastic} unit={unit} plain="%" step={5} onChange={(percent) => finish({ elastic: { length: percent } })} />}
      <HeldChoice held={line.held} unit={unit} shapes={state.costume.body.contact?.shapes ?? []} change={(held) => instead(held, line.finish)} />
    </div>
  );
}
