import type { Finish, StandIn } from "../api/types";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import type { Unit } from "../ui/units";
import { HoldFields, SNUG } from "./HoldFields";

type Key = "none" | "stay" | "waist" | "hips" | "height" | "skin" | "snug";

const WAYS: [Key, string][] = [
  ["none", "free"],
  ["stay", "at the level where it hangs"],
  ["waist", "at the level of the waist"],
  ["hips", "at the level of the hips"],
  ["height", "at a height"],
  ["skin", "to the skin"],
  ["snug", "snug to the skin"],
];

function keyOf(held: Finish | null): Key {
  if (held === null || typeof held === "string") return held === "stay" ? "stay" : "none";
  if ("level" in held) return typeof held.level.at === "object" ? "height" : held.level.at;
  return "skin" in held ? (held.skin.distance === undefined ? "skin" : "snug") : "none";
}

function heldBy(key: Key): Finish | null {
  switch (key) {
    case "none":
      return null;
    case "stay":
      return "stay";
    case "height":
      return { level: { at: { height: 1000 } } };
    case "skin":
      return { skin: { strength: 50, slides: false } };
    case "snug":
      return { skin: SNUG };
    default:
      return { level: { at: key } };
  }
}

/** How a line is held to the body. */
export function HeldChoice({ held, unit, shapes, change }: { held: Finish | null; unit: Unit; shapes: StandIn[]; change: (held: Finish | null) => void }) {
  const hold = held !== null && typeof held === "object" && "skin" in held ? held.skin : null;
  const height = held !== null && typeof held === "object" && "level" in held && typeof held.level.at === "object" ? held.level.at.height : null;
  return (
    <>
      <Choice label="Held" value={keyOf(held)} options={WAYS} onChange={(key) => change(heldBy(key))} />
      {height !== null && <NumberField label="Above the ground" value={height} unit={unit} onChange={(mm) => change({ level: { at: { height: mm } } })} />}
      {hold && <HoldFields hold={hold} unit={unit} shapes={shapes} change={(skin) => change({ skin })} />}
    </>
  );
}
