import * as THREE from "three";
import type { Point3 } from "./point";
import type { BodyView } from "./view";
import { token } from "../ui/token";

/** Half the width of a tape on the stand, m. */
const HALF = 0.0035;

/** Tapes over the body as yellow ribbons, and the points of the one that is being laid. */
export class TapeLines {
  readonly group = new THREE.Group();
  private ribbon = new THREE.MeshBasicMaterial({ color: token("ribbon"), side: THREE.DoubleSide, polygonOffset: true, polygonOffsetFactor: -4, polygonOffsetUnits: -4 });
  private trial = new THREE.MeshBasicMaterial({ color: token("thread"), side: THREE.DoubleSide, polygonOffset: true, polygonOffsetFactor: -6, polygonOffsetUnits: -6 });
  private dot = new THREE.SphereGeometry(0.006, 16, 12);
  private dotMaterial = new THREE.MeshBasicMaterial({ color: token("thread") });

  show(view: BodyView | null, laying: Point3[] | null) {
    for (const child of this.group.children) if (child instanceof THREE.Mesh && child.geometry !== this.dot) child.geometry.dispose();
    this.group.clear();
    if (!view) return;
    for (const tape of view.head.tapes) this.group.add(new THREE.Mesh(band(tape.path), tape.id === 0 ? this.trial : this.ribbon));
    for (const point of laying ?? []) {
      const mesh = new THREE.Mesh(this.dot, this.dotMaterial);
      mesh.position.set(...carried(view, point));
      this.group.add(mesh);
    }
  }
}

/** Where a point of the neutral skin is now: with its nearest vertex. */
function carried(view: BodyView, mm: Point3): Point3 {
  const [x, y, z] = mm.map((v) => v / 1000) as Point3;
  const { neutral, positions } = view;
  let [best, found] = [Number.POSITIVE_INFINITY, 0];
  for (let i = 0; i < neutral.length; i += 3) {
    const off = ((neutral[i] ?? 0) - x) ** 2 + ((neutral[i + 1] ?? 0) - y) ** 2 + ((neutral[i + 2] ?? 0) - z) ** 2;
    if (off < best) [best, found] = [off, i];
  }
  const shift = (k: number) => (positions[found + k] ?? 0) - (neutral[found + k] ?? 0);
  return [x + shift(0), y + shift(1), z + shift(2)];
}

/** A narrow band along a path: two strips, square to each other, so that it is seen from everywhere. */
function band(path: Point3[]): THREE.BufferGeometry {
  const points = path.map((p) => new THREE.Vector3(...p));
  const [positions, index]: [number[], number[]] = [[], []];
  for (const side of [0, 1]) {
    const first = positions.length / 3;
    points.forEach((p, i) => {
      const along = (points[i + 1] ?? p).clone().sub(points[i - 1] ?? p).normalize();
      const up = Math.abs(along.y) > 0.9 ? new THREE.Vector3(0, 0, 1) : new THREE.Vector3(0, 1, 0);
      const across = along.clone().cross(up).normalize();
      const way = side === 0 ? across : across.cross(along).normalize();
      for (const s of [-HALF, HALF]) positions.push(p.x + way.x * s, p.y + way.y * s, p.z + way.z * s);
      if (i > 0) {
        const k = first + 2 * i;
        index.push(k - 2, k - 1, k, k, k - 1, k + 1);
      }
    });
  }
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.Float32BufferAttribute(positions, 3));
  geometry.setIndex(index);
  return geometry;
}
