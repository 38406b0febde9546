import type { FabricPlan } from "../api/types";

type Point = [number, number];

/** Where the head of the cutter is at a time, s: its place on the cloth, what it has cut of the piece under it, and how many pieces are done. */
export interface CutterAt {
  head: Point;
  done: number;
  piece: number | null;
  line: Point[];
}

interface Leg {
  begins: number;
  ends: number;
  /** Number of the cut, and the way of the head; lifted when it is not cutting. */
  cut: number;
  way: Point[];
  lifted: boolean;
}

const apart = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);
const along = (way: Point[]) => way.slice(1).reduce((sum, p, k) => sum + apart(way[k] ?? p, p), 0);

/** The way as far as a length, with the point where it ends. */
function partOf(way: Point[], length: number): Point[] {
  const part: Point[] = way.slice(0, 1);
  let left = length;
  for (let k = 1; k < way.length; k += 1) {
    const [a, b] = [way[k - 1], way[k]];
    if (!a || !b) break;
    const step = apart(a, b);
    if (step >= left) {
      const share = step > 0 ? left / step : 0;
      part.push([a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])]);
      break;
    }
    part.push(b);
    left -= step;
  }
  return part;
}

/** The way of the cutter over a plan in time, as the plan says how fast it goes. */
export function cutterOver(plan: FabricPlan): (time: number) => CutterAt {
  const { cuts, knife, head, lift } = plan.way;
  const legs: Leg[] = [];
  let [now, at]: [number, Point] = [0, [0, 0]];
  cuts.forEach(({ piece, from }, cut) => {
    const outline = plan.pieces[piece]?.outline ?? [];
    const around = [...outline.slice(from), ...outline.slice(0, from + 1)];
    const start = around[0] ?? at;
    const arrives = now + apart(at, start) / head;
    legs.push({ begins: now, ends: arrives + lift, cut, way: [at, start], lifted: true });
    now = arrives + lift + along(around) / knife;
    legs.push({ begins: arrives + lift, ends: now, cut, way: around, lifted: false });
    at = start;
  });
  return (time) => {
    const leg = legs.find((l) => time < l.ends);
    if (!leg) return { head: at, done: cuts.length, piece: null, line: [] };
    const speed = leg.lifted ? head : knife;
    const line = partOf(leg.way, Math.max(0, time - leg.begins) * speed);
    return { head: line.at(-1) ?? at, done: leg.cut, piece: cuts[leg.cut]?.piece ?? null, line: leg.lifted ? [] : line };
  };
}
