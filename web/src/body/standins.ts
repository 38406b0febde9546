import * as THREE from "three";
import type { BoneShown, StandIn } from "../api/types";
import { token } from "../ui/token";

/** Simple shapes that the cloth meets in place of a part of the body; carried by bones. */
export class StandIns {
  readonly group = new THREE.Group();
  private material = new THREE.MeshStandardMaterial({ color: token("tape-line"), roughness: 0.8, transparent: true, opacity: 0.62 });
  private chosen = new THREE.MeshStandardMaterial({ color: token("thread"), roughness: 0.8, transparent: true, opacity: 0.62 });

  show(shapes: StandIn[], bones: BoneShown[], selected: number | null) {
    for (const child of this.group.children) if (child instanceof THREE.Mesh) child.geometry.dispose();
    this.group.clear();
    shapes.forEach((shape, i) => {
      const mesh = new THREE.Mesh(geometry(shape), i === selected ? this.chosen : this.material);
      mesh.userData.index = i;
      mesh.applyMatrix4(frame(shape, bones));
      this.group.add(mesh);
    });
  }

  mesh(index: number | null): THREE.Mesh | null {
    const found = this.group.children.find((c) => c.userData.index === index);
    return found instanceof THREE.Mesh ? found : null;
  }
}

function geometry(s: StandIn): THREE.BufferGeometry {
  const [x, y, z] = s.size.map((v) => v / 1000) as [number, number, number];
  if (s.shape === "box") return new THREE.BoxGeometry(2 * x, 2 * y, 2 * z);
  if (s.shape === "ellipsoid") return new THREE.SphereGeometry(1, 40, 24).scale(x, y, z);
  const radius = Math.min(x, y, z);
  return new THREE.CapsuleGeometry(radius, 2 * (y - radius), 12, 32);
}

/** The motion of the bone that carries a shape. */
export function carrier(s: StandIn, bones: BoneShown[]): THREE.Matrix4 {
  const bone = bones.find((b) => b.key === s.bone);
  if (!bone) return new THREE.Matrix4();
  return new THREE.Matrix4().compose(new THREE.Vector3(...bone.shift), new THREE.Quaternion(...bone.rotation), new THREE.Vector3(1, 1, 1));
}

const radians = (degrees: number) => (degrees * Math.PI) / 180;

function frame(s: StandIn, bones: BoneShown[]): THREE.Matrix4 {
  const [x, y, z] = s.turn.map(radians) as [number, number, number];
  const own = new THREE.Matrix4().compose(
    new THREE.Vector3(...s.at).multiplyScalar(0.001),
    new THREE.Quaternion().setFromEuler(new THREE.Euler(x, y, z, "ZYX")),
    new THREE.Vector3(1, 1, 1),
  );
  return carrier(s, bones).multiply(own);
}

/** Reads a shape back after its mesh was moved, turned or scaled on the stand. */
export function handled(s: StandIn, mesh: THREE.Mesh, bones: BoneShown[]): StandIn {
  mesh.updateMatrix();
  const own = carrier(s, bones).invert().multiply(mesh.matrix);
  const [at, turn, scale] = [new THREE.Vector3(), new THREE.Quaternion(), new THREE.Vector3()];
  own.decompose(at, turn, scale);
  const e = new THREE.Euler().setFromQuaternion(turn, "ZYX");
  const tenth = (v: number) => Math.round(v * 10) / 10;
  const degrees = (v: number) => tenth((v * 180) / Math.PI);
  const size = [s.size[0] * Math.abs(scale.x), s.size[1] * Math.abs(scale.y), s.size[2] * Math.abs(scale.z)].map((v) => tenth(Math.min(1500, Math.max(5, v)))) as StandIn["size"];
  return { ...s, at: [tenth(at.x * 1000), tenth(at.y * 1000), tenth(at.z * 1000)], turn: [degrees(e.x), degrees(e.y), degrees(e.z)], size };
}
