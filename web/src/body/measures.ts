import { useMemo } from "react";
import { useBodies } from "../api/costume";
import type { BodyChoice } from "../api/types";

/** Measures of the costume's body in mm by their keys: its own, else those of its size. */
export function useMeasures(body: BodyChoice): Map<string, { name: string; mm: number }> {
  const bodies = useBodies();
  return useMemo(() => {
    const size = bodies.data?.presets.find((p) => p.key === body.preset);
    return new Map((size?.measures ?? []).map((m) => [m.key, { name: m.name, mm: body.set?.[m.key] ?? m.mm }]));
  }, [bodies.data, body]);
}

/** Levels of the body in mm above the floor, from its measures: bust, waist, hip, fork and knee. */
export function levelsOf(measures: ReturnType<typeof useMeasures>): Map<string, number> {
  const m = (key: string) => measures.get(key)?.mm ?? 0;
  const waist = m("waist-height");
  if (waist === 0) return new Map();
  return new Map([
    ["bust", waist + 0.4 * m("back-waist")],
    ["waist", waist],
    ["hip", waist * (1 - 0.185)],
    ["fork", m("inseam")],
    ["knee", 0.56 * m("inseam")],
  ]);
}

/** What a station lies around: a level, a girth, and how much of that girth one piece goes around. */
export function aroundStation(station: string): { level: string | null; girth: string; share: number } | null {
  if (station.startsWith("chest")) return { level: "bust", girth: "bust", share: 0.5 };
  if (station.startsWith("waist")) return { level: "waist", girth: "waist", share: 0.5 };
  if (station.startsWith("hips")) return { level: "hip", girth: "hip", share: 0.5 };
  if (station.startsWith("upper-arm")) return { level: null, girth: "upper-arm", share: 1 };
  if (station.startsWith("thigh")) return { level: "fork", girth: "thigh", share: 1 };
  if (station.startsWith("knee")) return { level: "knee", girth: "knee", share: 1 };
  return null;
}
