import { memo } from "react";
import type { Underlay } from "../api/types";
import type { Camera } from "./camera";
import { matrixOf, useUnderlays } from "./underlays";

const still = { x: 0, y: 0 };

/** Pictures of patterns under the paper, at true scale. */
export const Underlays = memo(function Underlays({ all, camera }: { all: Underlay[]; camera: Camera }) {
  const dragged = useUnderlays((s) => s.dragged);
  return (
    <>
      {all.map((u) => (
        <img
          key={u.id}
          data-underlay={u.id}
          src={`/api/scans/${u.asset}/${u.page ?? 0}`}
          alt={`${u.name} under the paper`}
          draggable={false}
          width={u.pixels[0]}
          height={u.pixels[1]}
          className="pointer-events-none absolute top-0 left-0 max-w-none origin-top-left border border-edge border-dashed text-[40px] text-ink-soft"
          style={{ width: u.pixels[0], height: u.pixels[1], opacity: 1 - u.fade, transform: matrixOf(u, camera, dragged?.underlay === u.id ? dragged.by : still) }}
        />
      ))}
    </>
  );
});
