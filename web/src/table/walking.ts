import { create } from "zustand";
import { get } from "../api/http";
import type { SeamId, Walked } from "../api/types";

interface WalkingState {
  /** The seam whose sides are walked, and how far, mm. */
  seam: SeamId | null;
  by: number;
  /** Where the walking piece lies, as the server answered last. */
  walked: Walked | null;
}

/** One side of a seam walked along the other on the table. */
export const useWalking = create<WalkingState>(() => ({ seam: null, by: 0, walked: null }));

let underWay = false;

async function ask(costume: number) {
  underWay = true;
  for (;;) {
    const { seam, by } = useWalking.getState();
    if (seam === null) break;
    const walked = await get<Walked | null>(`/api/costumes/${costume}/walks?seam=${seam}&by=${by}`).catch(() => null);
    const now = useWalking.getState();
    if (now.seam === seam) useWalking.setState({ walked });
    if (now.seam === seam && now.by === by) break;
  }
  underWay = false;
}

export const walking = {
  /** Walks on; while an answer is awaited only the newest place waits. */
  to: (costume: number, seam: SeamId, by: number) => {
    useWalking.setState({ seam, by });
    if (!underWay) void ask(costume);
  },
  stop: () => useWalking.setState({ seam: null, by: 0, walked: null }),
};
