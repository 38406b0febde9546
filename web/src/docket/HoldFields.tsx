import type { SkinHold, StandIn } from "../api/types";
import type { Unit } from "../ui/units";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";

const KEEPS: ["as-it-lies" | "drawn", string][] = [
  ["as-it-lies", "as far as it lies"],
  ["drawn", "drawn to it"],
];
const MOVES: ["fixed" | "slides", string][] = [
  ["fixed", "keeps its spot"],
  ["slides", "may slide"],
];

/** A hold of the skin at a distance, as for a collar, a cuff or a waist that is to lie close. */
export const SNUG: SkinHold = { distance: 4, strength: 50, slides: true };

/** How cloth is held to the skin: at what distance, how firmly, and whether it may slide. */
export function HoldFields({ hold, unit, shapes, change }: { hold: SkinHold; unit: Unit; shapes: StandIn[]; change: (hold: SkinHold) => void }) {
  const { distance, to, ...plain } = hold;
  const at = distance === undefined ? {} : { distance };
  const onto = to === undefined ? {} : { to };
  const things: [string, string][] = [["skin", "the nearest skin"], ...shapes.map((s, k): [string, string] => [`${k}`, `stand-in ${k + 1}, ${s.shape}`])];
  return (
    <>
      <Choice label="Distance" value={distance === undefined ? "as-it-lies" : "drawn"} options={KEEPS} onChange={(key) => change({ ...plain, ...onto, ...(key === "drawn" ? { distance: 4 } : {}) })} />
      {distance !== undefined && <NumberField label="From the skin" value={distance} unit={unit} plain="mm" step={1} onChange={(d) => change({ ...plain, ...onto, distance: d })} />}
      <NumberField label="Strength" value={hold.strength} unit={unit} plain="%" step={5} onChange={(strength) => change({ ...plain, ...onto, ...at, strength: Math.min(100, Math.max(1, strength)) })} />
      <Choice label="On the skin" value={hold.slides ? "slides" : "fixed"} options={MOVES} onChange={(key) => change({ ...plain, ...onto, ...at, slides: key === "slides" })} />
      {shapes.length > 0 && <Choice label="Held to" value={to === undefined ? "skin" : `${to}`} options={things} onChange={(key) => change({ ...plain, ...at, ...(key === "skin" ? {} : { to: Number(key) }) })} />}
    </>
  );
}
