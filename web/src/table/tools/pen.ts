import type { LoopPoint, Point } from "../../api/types";
import { desk, useDesk } from "../../desk/store";
import { type Drawn, sketch, useSketch } from "../sketch";
import { type Bench, newName, type Place, type TableTool } from "./bench";

/** Distance at which a click means the first point again, px. */
const CLOSE = 10;

const less = (a: Point, b: Point): Point => ({ x: a.x - b.x, y: a.y - b.y });
const plus = (a: Point, b: Point): Point => ({ x: a.x + b.x, y: a.y + b.y });

/** The points of a closed loop as the document takes them, in the frame of the first. */
export function loopOf(nodes: Drawn[]): LoopPoint[] {
  const origin = nodes[0]?.at ?? { x: 0, y: 0 };
  return nodes.map((n, i) => {
    const next = nodes[(i + 1) % nodes.length] ?? n;
    const at = less(n.at, origin);
    if (!n.out && !next.out) return at;
    const end = less(next.at, origin);
    return { ...at, handles: [n.out ? plus(at, n.out) : at, next.out ? less(end, next.out) : end] };
  });
}

/** A half: its last point lies on the line through the first that is the fold. */
export function halfOf(nodes: Drawn[]): Drawn[] {
  const [first, last] = [nodes[0], nodes[nodes.length - 1]];
  if (!first || !last || Math.abs(last.at.x - first.at.x) < 0.05) return nodes;
  return [...nodes, { at: { x: first.at.x, y: last.at.y }, out: null }];
}

function take(bench: Bench) {
  const { nodes } = useSketch.getState();
  const half = useDesk.getState().tool === "half";
  const taken = half ? halfOf(nodes) : nodes;
  const [first] = taken;
  if (!first || taken.length < 2 || (taken.length < 3 && !taken.some((n) => n.out))) return;
  const fold = half ? { fold: taken.length - 1 } : {};
  bench.actions.edit({ do: "add-piece", name: newName(bench.pattern), at: first.at, points: loopOf(taken), ...fold });
  sketch.clear();
  desk.take("pick");
}

/** Point by point; a drag at a point makes it a smooth one whose curve leaves the way the pointer went. */
export const pen: TableTool = {
  down: (bench: Bench, { snapped }: Place) => {
    const { nodes } = useSketch.getState();
    const [first] = nodes;
    const closes = first && nodes.length > 1 && Math.hypot(first.at.x - snapped.at.x, first.at.y - snapped.at.y) * bench.camera.scale < CLOSE;
    if (closes && (nodes.length > 2 || nodes.some((n) => n.out))) return take(bench);
    useSketch.setState({ nodes: [...nodes, { at: snapped.at, out: null }], typing: null });
  },
  move: (_, place, held) => {
    if (held) {
      const { nodes } = useSketch.getState();
      const last = nodes[nodes.length - 1];
      if (!last) return;
      useSketch.setState({ nodes: [...nodes.slice(0, -1), { ...last, out: less(place.table, last.at) }], at: place.table, label: "curve" });
      return;
    }
    useSketch.setState({ at: place.snapped.at, label: place.snapped.label });
  },
  finish: take,
  back: () => useSketch.setState((s) => ({ nodes: s.nodes.slice(0, -1) })),
  neighbours: () => {
    const { nodes } = useSketch.getState();
    const last = nodes[nodes.length - 1];
    const [first] = nodes;
    return last && first ? (last === first ? [last.at] : [last.at, first.at]) : [];
  },
};
