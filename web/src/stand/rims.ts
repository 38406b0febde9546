import * as THREE from "three";
import type { PieceSpan } from "../api/types";
import { boundary } from "./outlines";

/** How the rim of a piece looks: the thickness of its cloth, m, and its colour. */
export interface Rim {
  thickness: number;
  colour: string;
}

/** Thinner cloth is drawn as if it were this thick, m, so that its rim can be seen at all. */
const LEAST = 0.0008;

/** The thickness of the cloth where it ends: a ribbon across every free edge. Edges that are sewn have none. */
export class Rims {
  readonly mesh: THREE.Mesh<THREE.BufferGeometry, THREE.MeshStandardMaterial>;
  /** Ends of the border edges, and half the thickness at each edge. */
  private ends: number[] = [];
  private half: number[] = [];

  constructor() {
    this.mesh = new THREE.Mesh(new THREE.BufferGeometry(), new THREE.MeshStandardMaterial({ vertexColors: true, roughness: 1, side: THREE.DoubleSide }));
    this.mesh.frustumCulled = false;
  }

  /** Takes up the borders of the pieces. */
  follow(cloth: THREE.BufferGeometry, spans: PieceSpan[], looks: Rim[]) {
    this.ends = [];
    this.half = [];
    const tints: THREE.Color[] = [];
    const index = cloth.getIndex();
    const last = spans[spans.length - 1];
    if (index && last && index.count >= 3 * (last.first_triangle + last.triangles)) {
      spans.forEach((span, k) => {
        const look = looks[k];
        if (!look) return;
        const edges = boundary(index, span);
        const tint = new THREE.Color(look.colour).multiplyScalar(0.8);
        for (let e = 0; e < edges.length; e += 2) {
          this.ends.push(edges[e] ?? 0, edges[e + 1] ?? 0);
          this.half.push(0.5 * Math.max(look.thickness, LEAST));
          tints.push(tint);
        }
      });
    }
    const geometry = new THREE.BufferGeometry();
    const count = this.half.length;
    geometry.setAttribute("position", new THREE.BufferAttribute(new Float32Array(count * 12), 3));
    geometry.setAttribute("normal", new THREE.BufferAttribute(new Float32Array(count * 12), 3));
    geometry.setAttribute("color", new THREE.Float32BufferAttribute(tints.flatMap((c) => [0, 1, 2, 3].flatMap(() => [c.r, c.g, c.b])), 3));
    geometry.setIndex(this.half.flatMap((_, e) => [4 * e, 4 * e + 1, 4 * e + 2, 4 * e + 2, 4 * e + 1, 4 * e + 3]));
    this.mesh.geometry.dispose();
    this.mesh.geometry = geometry;
    this.move(cloth);
  }

  /** Follows the cloth to where it is now. */
  move(cloth: THREE.BufferGeometry) {
    const [position, normal] = [cloth.getAttribute("position"), cloth.getAttribute("normal")];
    if (!position || !normal || this.half.length === 0) return;
    const [p, n] = [position.array, normal.array];
    const at = this.mesh.geometry.getAttribute("position");
    const across = this.mesh.geometry.getAttribute("normal");
    const at3 = (array: ArrayLike<number>, v: number, k: number) => array[3 * v + k] ?? 0;
    // sewn edges lie on each other
    const middle = (e: number) => [0, 1, 2].map((k) => Math.round(2e4 * (at3(p, this.ends[2 * e] ?? 0, k) + at3(p, this.ends[2 * e + 1] ?? 0, k)))).join();
    const keys = this.half.map((_, e) => middle(e));
    const met = new Map<string, number>();
    for (const key of keys) met.set(key, (met.get(key) ?? 0) + 1);
    this.half.forEach((half, e) => {
      const sewn = (met.get(keys[e] ?? "") ?? 0) > 1;
      const [a, b] = [this.ends[2 * e] ?? 0, this.ends[2 * e + 1] ?? 0];
      const along = [0, 1, 2].map((k) => at3(p, b, k) - at3(p, a, k)) as [number, number, number];
      const up = [0, 1, 2].map((k) => at3(n, a, k) + at3(n, b, k)) as [number, number, number];
      const out = new THREE.Vector3(...along).cross(new THREE.Vector3(...up)).normalize();
      [a, a, b, b].forEach((v, corner) => {
        const side = sewn ? 0 : corner % 2 === 0 ? half : -half;
        const i = 4 * e + corner;
        at.setXYZ(i, at3(p, v, 0) + side * at3(n, v, 0), at3(p, v, 1) + side * at3(n, v, 1), at3(p, v, 2) + side * at3(n, v, 2));
        across.setXYZ(i, out.x, out.y, out.z);
      });
    });
    at.needsUpdate = true;
    across.needsUpdate = true;
  }
}
