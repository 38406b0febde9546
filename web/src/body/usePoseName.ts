import { useBodies } from "../api/costume";
import type { Costume } from "../api/types";
import { poseOf, samePose } from "./choice";
import type { Point3 } from "./point";

/** What the pose of a costume is called: one that ships, one that was kept, or an own one. */
export function usePoseName(costume: Costume): string {
  const bodies = useBodies();
  const pose = poseOf(costume.body);
  const named = [...(bodies.data?.poses ?? []), ...(costume.poses ?? [])];
  return named.find((p) => samePose(p.bones as Record<string, Point3>, pose))?.name ?? (Object.keys(pose).length > 0 ? "own pose" : "A-pose");
}
