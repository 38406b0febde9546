import { useEffect, useRef, useState } from "react";
import type { StandScene } from "../stand/StandScene";
import { useDesk } from "../desk/store";
import { Reel, type ReelLayout } from "./reel";
import { firstOf, useRehearse } from "./store";

/** Frames that are fetched ahead while it plays. */
const AHEAD = 24;

/** Shows the chosen rehearsal on the stand while its stage is open; its pieces by their place in the frames, or null. */
export function useReel(scene: StandScene | null): ReelLayout | null {
  const open = useDesk((s) => s.stage === "rehearse");
  const chosen = useRehearse((s) => s.chosen);
  const begun = useRehearse((s) => (s.row?.done ?? 0) > 0);
  const [layout, setLayout] = useState<ReelLayout | null>(null);
  const reel = useRef<Reel | null>(null);
  const active = open && chosen !== null && begun;

  useEffect(() => {
    if (!active || chosen === null) return;
    let gone = false;
    const show = () => {
      const frame = reel.current?.at(useRehearse.getState().frame);
      if (frame && !gone) scene?.showReel(frame);
    };
    const made = new Reel(chosen, (frame) => frame === useRehearse.getState().frame && show());
    reel.current = made;
    made
      .layout()
      .then((found) => {
        if (gone) return;
        scene?.beginReel(found);
        setLayout(found);
        ask();
      })
      .catch(() => undefined);
    const ask = () => {
      const { frame, row, loop } = useRehearse.getState();
      const [first, end] = [firstOf({ row }), row?.done ?? 0];
      const next = Array.from({ length: AHEAD }, (_, k) => frame + k).map((f) => (f < end ? f : loop ? first + (f - end) : -1));
      made.want(next.filter((f) => f >= 0 && f < end));
      show();
    };
    const stop = useRehearse.subscribe((now, before) => {
      if (now.frame !== before.frame || now.row?.done !== before.row?.done) ask();
    });
    return () => {
      gone = true;
      stop();
      reel.current = null;
      setLayout(null);
      scene?.endReel();
    };
  }, [scene, active, chosen]);

  usePlaying(active && layout !== null, layout?.head.fps ?? 24, reel);
  return layout;
}

/** Moves on at the true speed; a frame that is not here yet is waited for. */
function usePlaying(ready: boolean, fps: number, reel: React.RefObject<Reel | null>) {
  const playing = useRehearse((s) => s.playing);
  useEffect(() => {
    if (!playing || !ready) return;
    let stopped = false;
    let due = performance.now();
    const shown: number[] = [];
    const tick = (now: number) => {
      if (stopped) return;
      requestAnimationFrame(tick);
      if (now < due) return;
      const { frame, row, loop } = useRehearse.getState();
      const end = row?.done ?? 0;
      // frames that a slow picture took too long for are left out: the motion keeps its time
      const late = Math.max(1, Math.floor(((now - due) * fps) / 1000) + 1);
      let next = frame + late;
      if (next >= end) {
        if (!loop) return useRehearse.setState({ playing: false, frame: Math.max(0, end - 1) });
        next = firstOf({ row });
      }
      if (!reel.current?.at(next)) {
        reel.current?.want(Array.from({ length: AHEAD }, (_, k) => next + k).filter((f) => f < end));
        due = now + 1000 / fps;
        return;
      }
      due += (late * 1000) / fps;
      shown.push(now);
      while ((shown[0] ?? now) < now - 1000) shown.shift();
      useRehearse.setState({ frame: next, rate: shown.length });
    };
    requestAnimationFrame(tick);
    return () => {
      stopped = true;
    };
  }, [playing, ready, fps, reel]);
}
