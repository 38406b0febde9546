import * as THREE from "three";
import type { PieceSpan, Point } from "../api/types";
import { lineMaterial } from "./outlines";
import { token } from "../ui/token";

/** A row of top-stitching on a piece, mm in its frame, and how long a stitch is. */
export interface StitchRow {
  piece: number;
  points: Point[];
  length: number;
}

/** Share of a stitch that lies on top. */
export const ON_TOP = 0.62;
/** Most stitches that are drawn. */
const MOST = 12_000;

/** A place on the cloth: three vertices and their weights. */
interface Anchor {
  corners: [number, number, number];
  weights: [number, number, number];
}

/** Stitches on the cloth that go where it goes. */
export class Stitches {
  readonly lines = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("paper")));
  private flat: Float32Array = new Float32Array();
  private triangles: Uint32Array = new Uint32Array();
  private anchors: Anchor[] = [];

  constructor() {
    this.lines.frustumCulled = false;
    this.lines.visible = false;
  }

  read(flat: Float32Array, triangles: Uint32Array) {
    this.flat = flat;
    this.triangles = triangles;
    this.anchors = [];
  }

  /** Finds the places of all stitches on the cut cloth. */
  show(rows: StitchRow[], spans: PieceSpan[]) {
    this.anchors = [];
    for (const row of rows) {
      const span = spans.find((s) => s.piece === row.piece);
      if (!span || 3 * (span.first_triangle + span.triangles) > this.triangles.length) continue;
      const cloth = new FlatCloth(this.flat, this.triangles, span);
      for (const [from, to] of stitchesOf(row)) {
        const [a, b] = [cloth.at(from), cloth.at(to)];
        if (a && b && this.anchors.length < 2 * MOST) this.anchors.push(a, b);
      }
    }
    this.lines.geometry.dispose();
    this.lines.geometry = new THREE.BufferGeometry();
    this.lines.geometry.setAttribute("position", new THREE.BufferAttribute(new Float32Array(3 * this.anchors.length), 3));
  }

  /** Takes the stitches along with the cloth. */
  follow(cloth: THREE.BufferGeometry, on: boolean) {
    const [from, to] = [cloth.getAttribute("position"), this.lines.geometry.getAttribute("position")];
    this.lines.visible = on && this.anchors.length > 0 && from !== undefined;
    if (!this.lines.visible || !from || !to) return;
    const [source, out] = [from.array, to.array];
    this.anchors.forEach(({ corners, weights }, k) => {
      for (let axis = 0; axis < 3; axis++) {
        let sum = 0;
        for (let c = 0; c < 3; c++) sum += (weights[c] ?? 0) * (source[3 * (corners[c] ?? 0) + axis] ?? 0);
        out[3 * k + axis] = sum;
      }
    });
    to.needsUpdate = true;
  }

  dispose() {
    this.lines.geometry.dispose();
    this.lines.material.dispose();
  }
}

/** Both ends of every stitch along a row. */
function stitchesOf({ points, length }: StitchRow): [Point, Point][] {
  const found: [Point, Point][] = [];
  let done = 0;
  for (let k = 0; k + 1 < points.length; k++) {
    const [a, b] = [points[k], points[k + 1]];
    if (!a || !b) continue;
    const long = Math.hypot(b.x - a.x, b.y - a.y);
    const at = (s: number) => ({ x: a.x + ((b.x - a.x) * s) / long, y: a.y + ((b.y - a.y) * s) / long });
    // the rhythm goes on around corners
    for (let s = Math.ceil(done / length) * length - done; s < long; s += length) found.push([at(s), at(Math.min(long, s + ON_TOP * length))]);
    done += long;
  }
  return found;
}

/** The cut cloth of one piece, to find which triangle a place is in. */
class FlatCloth {
  private readonly cells = new Map<string, number[]>();
  private readonly cell: number;

  constructor(
    private readonly flat: Float32Array,
    private readonly triangles: Uint32Array,
    span: PieceSpan,
  ) {
    const first = this.corners(span.first_triangle);
    const size = Math.max(...first.map((p) => Math.hypot(p[0] - first[0][0], p[1] - first[0][1])));
    this.cell = 2 * size;
    for (let t = span.first_triangle; t < span.first_triangle + span.triangles; t++) {
      const [xs, ys] = [this.corners(t).map((p) => p[0]), this.corners(t).map((p) => p[1])];
      for (let i = this.index(Math.min(...xs)); i <= this.index(Math.max(...xs)); i++) {
        for (let j = this.index(Math.min(...ys)); j <= this.index(Math.max(...ys)); j++) {
          const key = `${i} ${j}`;
          const there = this.cells.get(key);
          if (there) there.push(t);
          else this.cells.set(key, [t]);
        }
      }
    }
  }

  private index = (v: number) => Math.floor(v / this.cell);

  private corners(t: number): [[number, number], [number, number], [number, number]] {
    const corner = (k: number): [number, number] => {
      const v = this.triangles[3 * t + k] ?? 0;
      return [this.flat[2 * v] ?? 0, this.flat[2 * v + 1] ?? 0];
    };
    return [corner(0), corner(1), corner(2)];
  }

  /** The place of a point in mm. */
  at(p: Point): Anchor | null {
    const [x, y] = [p.x / 1000, p.y / 1000];
    let best: { out: number; anchor: Anchor } | null = null;
    for (const t of this.cells.get(`${this.index(x)} ${this.index(y)}`) ?? []) {
      const [a, b, c] = this.corners(t);
      const all = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
      const u = ((b[0] - x) * (c[1] - y) - (c[0] - x) * (b[1] - y)) / all;
      const v = ((c[0] - x) * (a[1] - y) - (a[0] - x) * (c[1] - y)) / all;
      const weights: [number, number, number] = [u, v, 1 - u - v];
      const out = Math.max(0, ...weights.map((w) => -w));
      if (!best || out < best.out) best = { out, anchor: { corners: [0, 1, 2].map((k) => this.triangles[3 * t + k] ?? 0) as Anchor["corners"], weights } };
    }
    return best && best.out < 0.5 ? best.anchor : null;
  }
}
