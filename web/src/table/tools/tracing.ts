import type { Point } from "../../api/types";
import { desk } from "../../desk/store";
import { notify } from "../../ui/notices";
import { sketch, useSketch } from "../sketch";
import { ticksAlong, traceAt, underlayAt, useUnderlays } from "../underlays";
import type { Bench, TableTool } from "./bench";

/** The picture under a place; told when there is none. */
function pictureAt({ underlays }: Bench, at: Point) {
  const found = underlayAt(underlays, at);
  if (!found) notify({ item: "No picture", reason: "lies under this place", remedy: underlays.length > 0 ? "Click on a picture under the paper" : "Lay a picture under the paper first, in the docket" });
  return found;
}

/** Takes the proposed outline as a piece. */
export function takeTraced({ actions }: Pick<Bench, "actions">) {
  const { traced } = useSketch.getState();
  if (!traced) return;
  actions.edit(traced.edit);
  sketch.clear();
}

/** A click inside a printed outline proposes it; Enter takes it, Escape refuses it. */
export const trace: TableTool = {
  down: (bench, { table }) => {
    const picture = pictureAt(bench, table);
    if (!picture || useUnderlays.getState().busy) return;
    sketch.clear();
    void traceAt(bench.costume, picture.id, table).then((traced) => traced && useSketch.setState({ traced }));
  },
  finish: takeTraced,
};

/** So many clicks on one picture, then what they are is asked. */
function marking(count: number, then: (bench: Bench, points: Point[], underlay: number) => void): TableTool {
  return {
    down: (bench, { table }) => {
      const { nodes, asked } = useSketch.getState();
      const picture = pictureAt(bench, nodes[0]?.at ?? table);
      if (asked || !picture) return;
      if (picture.locked) return notify({ item: picture.name, reason: "is held under the paper", remedy: "Let it go in the docket first" });
      const marked = [...nodes, { at: table, out: null }];
      useSketch.setState({ nodes: marked, at: table });
      if (marked.length === count) then(bench, marked.map((n) => n.at), picture.id);
    },
    move: (_, { table }) => !useSketch.getState().asked && useSketch.setState({ at: table }),
    back: () => useSketch.setState((s) => ({ nodes: s.nodes.slice(0, -1), asked: null })),
  };
}

/** Two places whose distance is known. */
export const twoPoints = marking(2, (_, points, underlay) => useSketch.setState({ asked: { kind: "length", points, underlay } }));

/** Four corners of a rectangle whose sides are known. */
export const straighten = marking(4, (_, points, underlay) => useSketch.setState({ asked: { kind: "rectangle", points, underlay } }));

/** A line along a ruler: its ticks are counted. */
export const ruler = marking(2, ({ costume }, points, underlay) => {
  const [from, to] = points;
  if (!from || !to) return;
  void ticksAlong(costume, underlay, from, to).then((ticks) => {
    if (ticks) useSketch.setState({ asked: { kind: "ruler", points, underlay, ticks } });
    else sketch.clear();
  });
});

/** Sends what was answered, and puts the tool away. */
export function answer({ actions }: Pick<Bench, "actions">, values: number[]) {
  const { asked } = useSketch.getState();
  const [first, second] = values;
  if (!asked || first === undefined) return;
  const { kind, points, underlay, ticks } = asked;
  const [from, to, third, fourth] = points;
  if (!from || !to) return;
  if (kind === "length") actions.edit({ do: "scale-underlay", underlay, from, to, length: first });
  const apart = Math.hypot(to.x - from.x, to.y - from.y);
  if (kind === "ruler" && ticks) actions.edit({ do: "scale-underlay", underlay, from, to, length: (apart * first) / ticks.spacing });
  if (kind === "rectangle" && third && fourth && second !== undefined) actions.edit({ do: "straighten-underlay", underlay, corners: [from, to, third, fourth], width: first, height: second });
  sketch.clear();
  desk.take("pick");
}
