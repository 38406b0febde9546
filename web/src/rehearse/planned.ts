import { useEffect } from "react";
import { create } from "zustand";
import type { Prop } from "../api/types";
import type { StandScene } from "../stand/StandScene";
import { useDesk } from "../desk/store";
import { useRehearse } from "./store";

/** The things beside the body in the next rehearsal. */
export const usePlanned = create<{ things: Prop[] }>(() => ({ things: [] }));

/** Shows them on the stand where they begin, while no rehearsal is looked at. */
export function usePlannedOnStand(scene: StandScene | null) {
  const things = usePlanned((s) => s.things);
  const free = useRehearse((s) => s.row === null);
  const open = useDesk((s) => s.stage === "rehearse");
  useEffect(() => {
    if (scene && free && open) scene.showThings(things);
    return () => scene?.showThings([]);
  }, [scene, things, free, open]);
}
