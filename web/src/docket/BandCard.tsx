import { useState } from "react";
import { desk, useDesk } from "../desk/store";
import { toTableFrame } from "../table/shown";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";
import type { DocketProps } from "./props";

/** A rectangle by its size; it is laid to the right of the other pieces. */
export function BandCard({ state, actions }: DocketProps) {
  const unit = useDesk((s) => s.unit);
  const [width, setWidth] = useState(400);
  const [height, setHeight] = useState(100);
  const { pieces } = state.costume;
  const add = () => {
    const corners = state.pattern.pieces.flatMap((v) => v.outline.map((l) => toTableFrame(v, l.from)));
    const right = Math.max(0, ...corners.map((c) => c.x));
    const low = Math.min(...corners.map((c) => c.y));
    const points = [
      { x: 0, y: 0 },
      { x: width, y: 0 },
      { x: width, y: height },
      { x: 0, y: height },
    ];
    actions.edit({ do: "add-piece", name: `Piece ${pieces.length + 1}`, at: { x: pieces.length ? right + 60 : 0, y: pieces.length ? low : 0 }, points });
    desk.take("pick");
  };
  return (
    <Card title="Band by size">
      <NumberField label="Width" value={width} unit={unit} step={10} onChange={setWidth} />
      <NumberField label="Height" value={height} unit={unit} step={10} onChange={setHeight} />
      <Button className="mt-2 w-full" data-add-band onClick={add}>
        Lay it on the table
      </Button>
    </Card>
  );
}
