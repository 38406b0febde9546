import type { Point } from "../../api/types";
import { desk } from "../../desk/store";
import { sketch, useSketch } from "../sketch";
import { newName, type TableTool } from "./bench";

/** Least side of a rectangle or radius of a disc, mm. */
const LEAST = 5;

type Draw = (edit: Send, name: string, a: Point, b: Point) => void;

/** A shape in the box from one corner to the other. */
const boxed = (draw: Draw): TableTool => ({
  down: (_, { snapped }) => useSketch.setState({ nodes: [{ at: snapped.at, out: null }], typing: null }),
  move: (_, { snapped }) => useSketch.setState({ at: snapped.at, label: snapped.label }),
  up: ({ actions, pattern }, { snapped }) => {
    const first = useSketch.getState().nodes[0]?.at;
    const at = snapped.at;
    if (!first || Math.abs(at.x - first.x) < LEAST || Math.abs(at.y - first.y) < LEAST) return;
    draw(actions.edit, newName(pattern), first, at);
    sketch.clear();
    desk.take("pick");
  },
});

type Send = Parameters<NonNullable<TableTool["up"]>>[0]["actions"]["edit"];

export function addRectangle(edit: Send, name: string, a: Point, b: Point) {
  const [w, h] = [b.x - a.x, b.y - a.y];
  edit({
    do: "add-piece",
    name,
    at: a,
    points: [
      { x: 0, y: 0 },
      { x: w, y: 0 },
      { x: w, y: h },
      { x: 0, y: h },
    ],
  });
}

/** An ellipse that fills the box between two points. */
export function addEllipse(edit: Send, name: string, a: Point, b: Point) {
  const at = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  edit({ do: "add-basic", name, at, basic: { ellipse: { width: Math.abs(b.x - a.x), height: Math.abs(b.y - a.y) } } });
}

/** A disc of this radius about a point. */
export const addDisc = (edit: Send, name: string, middle: Point, radius: number) =>
  addEllipse(edit, name, { x: middle.x - radius, y: middle.y - radius }, { x: middle.x + radius, y: middle.y + radius });

export const band = boxed(addRectangle);
export const oval = boxed(addEllipse);

/** A disc about the point where the pointer is pressed. */
export const disc: TableTool = {
  down: (_, { snapped }) => useSketch.setState({ nodes: [{ at: snapped.at, out: null }], typing: null }),
  move: (_, { snapped }) => useSketch.setState({ at: snapped.at, label: snapped.label }),
  up: ({ actions, pattern }, { snapped }) => {
    const middle = useSketch.getState().nodes[0]?.at;
    if (!middle) return;
    const radius = Math.hypot(snapped.at.x - middle.x, snapped.at.y - middle.y);
    if (radius < LEAST) return;
    addDisc(actions.edit, newName(pattern), middle, radius);
    sketch.clear();
    desk.take("pick");
  },
};

/** A closed line in one stroke of the hand, which becomes curves of few corners. */
export const freehand: TableTool = {
  down: (_, { table }) => useSketch.setState({ stroke: [table] }),
  move: (_, { table }, held) => held && useSketch.setState((s) => ({ stroke: [...s.stroke, table] })),
  up: ({ actions, pattern, camera }) => {
    const { stroke } = useSketch.getState();
    const [first] = stroke;
    sketch.clear();
    if (!first || stroke.length < 8) return;
    const points = stroke.map((p) => ({ x: p.x - first.x, y: p.y - first.y }));
    actions.edit({ do: "add-freehand", name: newName(pattern), at: first, points, within: Math.min(20, Math.max(0.5, 2 / camera.scale)) });
    desk.take("pick");
  },
};
