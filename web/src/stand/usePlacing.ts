import { useEffect } from "react";
import type * as THREE from "three";
import type { CostumeActions } from "../api/costume";
import type { CostumeState, Edit, Placement, StationShown } from "../api/types";
import { useBody } from "../body/store";
import { desk, selectedPiece, useDesk } from "../desk/store";
import { runOf } from "../table/joining";
import { pointOn } from "../table/shape";
import { allLines } from "../table/shown";
import { take } from "../table/tools/sewing";
import { useDrape } from "./socket";
import { useSpots } from "./spots";
import type { StandScene } from "./StandScene";
import { useVeil } from "./veil";

/** Nearest distance to an edge at which a click on the cloth means it, mm. */
const EDGE = 45;

/** The step that puts a piece somewhere; a twin is moved by moving its partner. */
export function placeEdit(state: CostumeState, piece: number, placement: Placement): Edit {
  const doc = state.costume.pieces.find((p) => p.id === piece);
  const of = doc && typeof doc.shape === "object" && "twin" in doc.shape && !doc.placement ? doc.shape.twin.of : null;
  if (of === null) return { do: "place", piece, placement };
  const station = placement.station.replace(/(left|right)$/, (s) => (s === "left" ? "right" : "left"));
  return { do: "place", piece: of, placement: { ...placement, station, shift: { x: -placement.shift.x, y: placement.shift.y }, turn: -placement.turn } };
}

/** Placing and sewing on the stand: spots while they are wanted, pieces that slide around the body, edges that are clicked. */
export function usePlacing(scene: StandScene | null, state: CostumeState, actions: CostumeActions) {
  const stage = useDesk((s) => s.stage);
  const tool = useDesk((s) => s.tool);
  const stations = useBody((s) => s.view?.head.stations);
  const { carried, near } = useSpots();
  const chosen = useDesk((s) => selectedPiece(s.selection));
  const { hidden, ghosts } = useVeil();
  useEffect(() => scene?.setVeil(hidden, ghosts), [scene, hidden, ghosts, state.version]);

  const bare = state.pattern.pieces.some((p) => p.piece === chosen && !p.placement);
  const wanted = stage === "join" && (carried !== null || bare);
  useEffect(() => scene?.showSpots(wanted && stations ? stations : null), [scene, wanted, stations]);
  useEffect(() => scene?.markSpot(wanted ? near : null), [scene, wanted, near]);
  useEffect(() => {
    if (!scene) return;
    useSpots.setState({ find: (x, y) => scene.spotAt(x, y) });
    return () => useSpots.setState({ find: null });
  }, [scene]);

  useEffect(() => {
    if (!scene) return;
    let held: { piece: number; at: Placement; station: StationShown; next: Placement } | null = null;
    scene.pointing.placing =
      stage !== "join"
        ? null
        : {
            take: (triangle) => {
              const piece = scene.pieceOf(triangle);
              const at = state.pattern.pieces.find((p) => p.piece === piece)?.placement;
              const station = stations?.find((s) => s.key === at?.station);
              // only what is selected and still hangs is moved; the rest of the stand turns
              if (piece === null || piece !== chosen || !at || !station || useDrape.getState().status?.activity !== "hung") return false;
              held = { piece, at, station, next: at };
              return true;
            },
            move: (by: THREE.Vector3, turns: boolean) => {
              if (!held) return;
              const along = (way: [number, number, number]) => by.x * way[0] + by.y * way[1] + by.z * way[2];
              const [x, y] = [along(held.station.right), along(held.station.up)];
              const { at } = held;
              held.next = turns ? { ...at, turn: Math.round(at.turn + 300 * x) } : { ...at, shift: { x: Math.round(at.shift.x + 1000 * x), y: Math.round(at.shift.y + 1000 * y) } };
              if (!turns) scene.shiftPiece(held.piece, by);
            },
            done: (keep) => {
              if (held && keep) actions.edit(placeEdit(state, held.piece, held.next));
              held = null;
            },
          };
    scene.pointing.looking = {
      over: (triangle) => useDesk.setState({ hovered: scene.pieceOf(triangle) }),
      click: (triangle, point, more) => {
        const piece = scene.pieceOf(triangle);
        const view = state.pattern.pieces.find((p) => p.piece === piece);
        if (stage === "join" && tool === "seam" && view && triangle !== null && point) {
          const flat = scene.flatOf(triangle, point);
          const line = flat && nearestLine(view, flat[0] * 1000, flat[1] * 1000);
          if (line) return take(actions, runOf(view.piece, line), more);
        }
        if (useDesk.getState().noting && piece !== null && triangle !== null && point) {
          const flat = scene.flatOf(triangle, point);
          if (flat) useDesk.setState({ noting: false, noteAt: { piece, at: { x: Math.round(flat[0] * 1000), y: Math.round(flat[1] * 1000) } } });
        }
        desk.select(piece === null ? null : { kind: "piece", piece });
      },
    };
  }, [scene, stage, tool, stations, state, chosen, actions]);
}

/** The line of a piece nearest to a place in its frame, mm; none when all are far. */
function nearestLine(view: CostumeState["pattern"]["pieces"][number], x: number, y: number): number | null {
  let best: { line: number; off: number } | null = null;
  for (const l of allLines(view).filter((o) => !o.image)) {
    const [leave, arrive] = l.handles ?? [null, null];
    for (let k = 0; k <= 24; k++) {
      const at = pointOn({ from: l.from, to: l.to, leave, arrive }, k / 24);
      const off = Math.hypot(at.x - x, at.y - y);
      if (off < EDGE && (!best || off < best.off)) best = { line: l.line, off };
    }
  }
  return best?.line ?? null;
}
