import { create } from "zustand";
import type { Point, RulerTicks, Spot, Traced } from "../api/types";

/** A point of what is being drawn, with the way in which a curve leaves it. */
export interface Drawn {
  at: Point;
  out: Point | null;
}

/** A place on a piece that a tool was begun with. */
export interface Begin {
  piece: number;
  spot: Spot | null;
  /** In the frame of the piece. */
  own: Point;
  at: Point;
}

/** What was marked on a picture under the paper, until its true size is told. */
export interface AskedOf {
  kind: "length" | "rectangle" | "ruler";
  points: Point[];
  underlay: number;
  ticks?: RulerTicks;
}

interface SketchState {
  /** Of an outline, or of a way across a piece; table mm. */
  nodes: Drawn[];
  /** Of a freehand line. */
  stroke: Point[];
  /** Spots of a way inside or across one piece. */
  begun: Begin[];
  /** Where the next point would be, and why there. */
  at: Point | null;
  label: string | null;
  /** Both ends of what is measured. */
  measured: [Point, Point] | null;
  /** An outline found in a picture, neither taken nor refused yet. */
  traced: Traced | null;
  asked: AskedOf | null;
  /** What is being typed at the pointer, while it is. */
  typing: string | null;
}

const none: SketchState = { nodes: [], stroke: [], begun: [], at: null, label: null, measured: null, traced: null, asked: null, typing: null };

/** What a tool of the table has begun and not finished. */
export const useSketch = create<SketchState>(() => none);

export const sketch = {
  clear: () => useSketch.setState(none),
  get: () => useSketch.getState(),
};

export const isEmpty = (s: SketchState) => s.nodes.length === 0 && s.stroke.length === 0 && s.begun.length === 0 && s.measured === null && s.traced === null && s.asked === null;
