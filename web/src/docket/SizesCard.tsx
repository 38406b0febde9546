import { useState } from "react";
import type { Basic } from "../api/types";
import { desk, useDeskOf } from "../desk/store";
import { besideAll } from "../table/shown";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";
import type { DocketProps } from "./props";

type Kind = "rectangle" | "ellipse" | "ring" | "half" | "quarter" | "sector";

const KINDS: [Kind, string][] = [
  ["rectangle", "rectangle"],
  ["ellipse", "circle, ellipse"],
  ["ring", "ring"],
  ["half", "half circle"],
  ["quarter", "quarter circle"],
  ["sector", "sector"],
];

/** A shape by its size; it is laid to the right of the other pieces. */
export function SizesCard({ state, actions }: DocketProps) {
  const { unit, tool } = useDeskOf("unit", "tool");
  const [kind, setKind] = useState<Kind>(tool === "disc" || tool === "oval" ? "ellipse" : "rectangle");
  const [width, setWidth] = useState(400);
  const [height, setHeight] = useState(100);
  const [outer, setOuter] = useState(600);
  const [inner, setInner] = useState(110);
  const [degrees, setDegrees] = useState(120);
  const sided = kind === "rectangle" || kind === "ellipse";
  const add = () => {
    const { pieces } = state.costume;
    const beside = besideAll(state);
    const angle = { ring: 360, half: 180, quarter: 90, sector: degrees, rectangle: 0, ellipse: 0 }[kind];
    const basic: Basic = kind === "rectangle" ? { rectangle: { width, height } } : kind === "ellipse" ? { ellipse: { width, height } } : { sector: { outer, inner, degrees: angle } };
    const [w, h] = sided ? [width, height] : [2 * outer, 2 * outer];
    const at = { x: beside.x + w / 2, y: beside.y + h / 2 };
    actions.edit({ do: "add-basic", name: `Piece ${pieces.length + 1}`, at, basic });
    desk.take("pick");
  };
  return (
    <Card title="By size">
      <Choice label="Shape" value={kind} options={KINDS} onChange={setKind} />
      {sided ? (
        <>
          <NumberField label="Width" value={width} unit={unit} step={10} onChange={setWidth} />
          <NumberField label="Height" value={height} unit={unit} step={10} onChange={setHeight} />
        </>
      ) : (
        <>
          <NumberField label="Outer radius" value={outer} unit={unit} step={10} onChange={setOuter} />
          <NumberField label="Inner radius" value={inner} unit={unit} step={10} onChange={setInner} />
          {kind === "sector" && <NumberField label="Opening" value={degrees} unit={unit} plain="°" onChange={setDegrees} />}
        </>
      )}
      <Button className="mt-2 w-full" data-add-band onClick={add}>
        Lay it on the table
      </Button>
    </Card>
  );
}
