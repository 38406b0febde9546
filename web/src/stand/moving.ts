import * as THREE from "three";
import type { ClothFrame } from "./frames";
import type { Prop, PropShape, PropShown } from "../api/types";
import { token } from "../ui/token";

/** The things beside the body in a rehearsal. */
export class Props {
  readonly group = new THREE.Group();
  private readonly wood = new THREE.MeshStandardMaterial({ color: token("calico"), roughness: 0.85, flatShading: true });

  show(props: PropShown[]) {
    this.clear();
    for (const { corners, triangles } of props) this.add(meshOf(corners, triangles)).matrixAutoUpdate = false;
  }

  private add(geometry: THREE.BufferGeometry): THREE.Mesh {
    const mesh = new THREE.Mesh(geometry, this.wood);
    mesh.castShadow = true;
    mesh.receiveShadow = true;
    this.group.add(mesh);
    return mesh;
  }

  /** Things as they stand at the beginning of a motion. */
  stand(things: Prop[]) {
    this.clear();
    for (const { shape, keys } of things) {
      const key = keys[0];
      if (!key) continue;
      const mesh = this.add(geometryOf(shape));
      mesh.position.set(...key.at);
      mesh.rotation.y = THREE.MathUtils.degToRad(key.turn ?? 0);
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

/** A shape around its middle, m; of a level without end as much as there is room. */
function geometryOf(shape: PropShape): THREE.BufferGeometry {
  if (shape === "plane") return new THREE.PlaneGeometry(6, 6).rotateX(-Math.PI / 2);
  if ("box" in shape) return new THREE.BoxGeometry(...shape.box.size);
  if ("cylinder" in shape) return new THREE.CylinderGeometry(shape.cylinder.radius, shape.cylinder.radius, shape.cylinder.height, 32);
  if ("ring" in shape) return new THREE.TorusGeometry(shape.ring.radius, 0.5 * shape.ring.thickness, 10, 48).rotateX(Math.PI / 2);
  return meshOf(shape.mesh.positions, shape.mesh.triangles);
}

function meshOf(corners: PropShown["corners"], triangles: PropShown["triangles"]): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.Float32BufferAttribute(corners.flat(), 3));
  geometry.setIndex(triangles.flat());
  geometry.computeVertexNormals();
  return geometry;
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
