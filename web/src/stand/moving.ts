import * as THREE from "three";
import type { ClothFrame } from "./frames";
import type { PropShown } from "../api/types";
import { token } from "../ui/token";

/** The things beside the body in a rehearsal. */
export class Props {
  readonly group = new THREE.Group();
  private readonly wood = new THREE.MeshStandardMaterial({ color: token("calico"), roughness: 0.85, flatShading: true });

  show(props: PropShown[]) {
    this.clear();
    for (const { corners, triangles } of props) {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute("position", new THREE.Float32BufferAttribute(corners.flat(), 3));
      geometry.setIndex(triangles.flat());
      geometry.computeVertexNormals();
      const mesh = new THREE.Mesh(geometry, this.wood);
      mesh.matrixAutoUpdate = false;
      mesh.castShadow = true;
      mesh.receiveShadow = true;
      this.group.add(mesh);
    }
  }

  /** Twelve numbers a prop: three columns of its turn, then its place. */
  place(at: Float32Array) {
    this.group.children.forEach((mesh, k) => {
      const [a, b, c, d, e, f, g, h, i, x, y, z] = at.subarray(12 * k, 12 * k + 12);
      if (z === undefined) return;
      mesh.matrix.set(a ?? 1, d ?? 0, g ?? 0, x ?? 0, b ?? 0, e ?? 1, h ?? 0, y ?? 0, c ?? 0, f ?? 0, i ?? 1, z, 0, 0, 0, 1);
      mesh.matrixWorldNeedsUpdate = true;
    });
  }

  clear() {
    for (const mesh of this.group.children) if (mesh instanceof THREE.Mesh) mesh.geometry.dispose();
    this.group.clear();
  }

  dispose() {
    this.clear();
    this.wood.dispose();
  }
}

/** The middle of a body over the floor, m. */
export function middleOf(body: ClothFrame): [number, number] {
  let [x, z] = [0, 0];
  const count = body.positions.length / 3;
  for (let i = 0; i < body.positions.length; i += 3) {
    x += body.positions[i] ?? 0;
    z += body.positions[i + 2] ?? 0;
  }
  return [x / Math.max(1, count), z / Math.max(1, count)];
}
