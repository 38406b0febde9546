import { useQuery } from "@tanstack/react-query";
import { useBodies } from "../api/costume";
import { get } from "../api/http";
import type { BodyChoice, FigureRow } from "../api/types";

export interface Wearer {
  key: string;
  name: string;
  body: BodyChoice;
}

/** Everybody who can wear it: the sizes, the costume's own body where it is made to measure, and figures. */
export function useWearers(own: BodyChoice): Wearer[] {
  const bodies = useBodies();
  const figures = useQuery({ queryKey: ["figures"], queryFn: () => get<FigureRow[]>("/api/figures") });
  const sizes = (bodies.data?.presets ?? []).map((b) => ({ key: b.key, name: b.name, body: { preset: b.key } }));
  const measured = own.figure === undefined && Object.keys(own.set ?? {}).length > 0;
  const made: Wearer[] = measured ? [{ key: "own", name: "To measure", body: { preset: own.preset, set: own.set ?? {} } }] : [];
  return [...made, ...sizes, ...(figures.data ?? []).map((f) => ({ key: f.hash, name: f.name, body: { preset: own.preset, figure: f.hash } }))];
}
