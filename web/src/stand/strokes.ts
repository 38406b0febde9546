import * as THREE from "three";
import { lineMaterial } from "./outlines";
import { token } from "../ui/token";

/** Cloth stretched by less has no stroke. */
const LEAST = 0.005;
/** Length of a stroke at LEAST and at FULL, m. */
const SHORT = 0.012;
const LONG = 0.034;
const FULL = 0.05;
/** One stroke for each cell of so many m. */
const CELL = 0.034;

/** Strokes along the way in which the cloth is stretched most, longer where it is stretched more. */
export class Strokes {
  readonly lines = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("ink"), 0.8));

  constructor() {
    this.lines.frustumCulled = false;
    this.lines.visible = false;
  }

  /** Draws them anew over cloth whose flat coordinates (m) are its texture coordinates; none takes them away. */
  show(cloth: THREE.BufferGeometry | null) {
    const places = cloth ? strokesOf(cloth) : [];
    this.lines.geometry.dispose();
    this.lines.geometry = new THREE.BufferGeometry();
    this.lines.geometry.setAttribute("position", new THREE.Float32BufferAttribute(places, 3));
    this.lines.visible = places.length > 0;
  }

  dispose() {
    this.lines.geometry.dispose();
    this.lines.material.dispose();
  }
}

function strokesOf(cloth: THREE.BufferGeometry): number[] {
  const [index, position, flat] = [cloth.getIndex(), cloth.getAttribute("position"), cloth.getAttribute("uv")];
  if (!index || !position || !flat) return [];
  const places: number[] = [];
  const taken = new Set<string>();
  const at = (v: number) => new THREE.Vector3().fromBufferAttribute(position, v);
  for (let t = 0; t < index.count; t += 3) {
    const [i, j, k] = [index.getX(t), index.getX(t + 1), index.getX(t + 2)];
    const [p, q, r] = [at(i), at(j), at(k)];
    const middle = p.clone().add(q).add(r).divideScalar(3);
    const cell = middle.toArray().map((v) => Math.floor(v / CELL)).join();
    if (taken.has(cell)) continue;
    const way = stretched(
      [flat.getX(j) - flat.getX(i), flat.getY(j) - flat.getY(i)],
      [flat.getX(k) - flat.getX(i), flat.getY(k) - flat.getY(i)],
      q.sub(p),
      r.sub(p),
    );
    if (!way || way.strain < LEAST) continue;
    taken.add(cell);
    const half = 0.5 * (SHORT + (LONG - SHORT) * Math.min(1, (way.strain - LEAST) / (FULL - LEAST)));
    const along = way.along.multiplyScalar(half);
    places.push(...middle.clone().sub(along).toArray(), ...middle.add(along).toArray());
  }
  return places;
}

/** The way in which a triangle is stretched most, and by how much, from two edges as cut and as they are. */
function stretched(e: [number, number], f: [number, number], d: THREE.Vector3, g: THREE.Vector3): { along: THREE.Vector3; strain: number } | null {
  const twice = e[0] * f[1] - e[1] * f[0];
  if (twice === 0) return null;
  const u = d.clone().multiplyScalar(f[1]).addScaledVector(g, -e[1]).divideScalar(twice);
  const v = d.clone().multiplyScalar(-f[0]).addScaledVector(g, e[0]).divideScalar(twice);
  const [uu, vv, uv] = [u.dot(u), v.dot(v), u.dot(v)];
  const half = Math.hypot(0.5 * (uu - vv), uv);
  const angle = 0.5 * Math.atan2(2 * uv, uu - vv);
  const along = u.multiplyScalar(Math.cos(angle)).addScaledVector(v, Math.sin(angle));
  return { along: along.normalize(), strain: Math.sqrt(0.5 * (uu + vv) + half) - 1 };
}
