import * as THREE from "three";
import { drawn } from "../stand/marks";
import type { BoneShown } from "../api/types";
import { token } from "../ui/token";

/** Radius of the rings around a joint, m. */
const RING = 0.1;
const STEPS = 72;
const THICK = 0.0018;
const COLOURS = [token("axis-x"), token("axis-y"), token("axis-z")];
/** How near the pointer must be, pixels. */
const NEAR_JOINT = 13;
const NEAR_RING = 9;

/** A ring under the pointer: which angle, and where on the ring. */
export interface RingHit {
  freedom: number;
  /** Where the pointer took hold, on the ring. */
  point: THREE.Vector3;
}

/** Joints of the body as dots, and rings around the selected one, one for each angle that can change. */
export class Joints {
  readonly group = new THREE.Group();
  private bones: BoneShown[] = [];
  private dots: THREE.Sprite[] = [];
  private rings: { mesh: THREE.Mesh; points: THREE.Vector3[] }[] = [];
  private selected: string | null = null;
  private plain = dotTexture(token("card"), token("ink"));
  private inks = COLOURS.map((color) => new THREE.MeshBasicMaterial({ color, depthTest: false, transparent: true }));
  private chosen = dotTexture(token("thread"), token("card"));

  constructor() {
    this.group.visible = false;
    this.group.renderOrder = 20;
  }

  show(bones: BoneShown[], selected: string | null) {
    const turns = (b: BoneShown) => b.freedoms.some((f) => f.low < f.high);
    this.bones = bones.filter(turns);
    this.selected = selected;
    while (this.dots.length < this.bones.length) {
      const sprite = new THREE.Sprite(new THREE.SpriteMaterial({ map: this.plain, depthTest: false, sizeAttenuation: false }));
      sprite.scale.setScalar(0.0125);
      sprite.renderOrder = 22;
      this.dots.push(sprite);
      this.group.add(sprite);
    }
    this.dots.forEach((dot, i) => {
      const bone = this.bones[i];
      dot.visible = bone !== undefined;
      if (!bone) return;
      dot.position.set(...bone.at);
      dot.material.map = bone.key === selected ? this.chosen : this.plain;
      dot.scale.setScalar(bone.key === selected ? 0.0165 : 0.0125);
    });
    for (const { mesh } of this.rings) {
      mesh.removeFromParent();
      mesh.geometry.dispose();
    }
    const bone = this.bones.find((b) => b.key === selected);
    this.rings = (bone?.freedoms ?? []).map((f, i) => {
      const free = bone !== undefined && f.low < f.high;
      const points = free ? circle(new THREE.Vector3(...bone.at), new THREE.Vector3(...f.axis), RING * (1 + 0.16 * i)) : [];
      const geometry = free ? new THREE.TubeGeometry(new THREE.CatmullRomCurve3(points, true), 2 * STEPS, THICK, 8, true) : new THREE.BufferGeometry();
      const mesh = new THREE.Mesh(geometry, this.inks[i] ?? this.inks[0]);
      mesh.renderOrder = 21;
      if (free) this.group.add(mesh);
      return { mesh, points };
    });
  }

  get bone(): BoneShown | undefined {
    return this.bones.find((b) => b.key === this.selected);
  }

  /** The joint under the pointer; `project` gives pixels. */
  jointAt(x: number, y: number, project: (p: THREE.Vector3) => THREE.Vector2): string | null {
    let best: { key: string; off: number } | null = null;
    for (const bone of this.bones) {
      const off = project(new THREE.Vector3(...bone.at)).distanceTo(new THREE.Vector2(x, y));
      if (off < NEAR_JOINT && (!best || off < best.off)) best = { key: bone.key, off };
    }
    return best?.key ?? null;
  }

  ringAt(x: number, y: number, project: (p: THREE.Vector3) => THREE.Vector2): RingHit | null {
    let best: { hit: RingHit; off: number } | null = null;
    this.rings.forEach(({ points }, freedom) => {
      for (const point of points) {
        const off = project(point).distanceTo(new THREE.Vector2(x, y));
        if (off < NEAR_RING && (!best || off < best.off)) best = { hit: { freedom, point }, off };
      }
    });
    return (best as { hit: RingHit } | null)?.hit ?? null;
  }
}

function circle(centre: THREE.Vector3, axis: THREE.Vector3, radius: number): THREE.Vector3[] {
  const n = axis.clone().normalize();
  const u = new THREE.Vector3(Math.abs(n.x) < 0.9 ? 1 : 0, Math.abs(n.x) < 0.9 ? 0 : 1, 0).cross(n).normalize();
  const v = n.clone().cross(u);
  return Array.from({ length: STEPS }, (_, k) => {
    const a = (k / STEPS) * 2 * Math.PI;
    return centre.clone().addScaledVector(u, radius * Math.cos(a)).addScaledVector(v, radius * Math.sin(a));
  });
}

/** Turns a ring by dragging: degrees since the drag began. */
export class RingDrag {
  private readonly tangent: THREE.Vector2;
  private readonly perPixel: number;

  constructor(
    readonly freedom: number,
    readonly start: number,
    bone: BoneShown,
    hit: RingHit,
    private readonly from: THREE.Vector2,
    project: (p: THREE.Vector3) => THREE.Vector2,
  ) {
    const centre = new THREE.Vector3(...bone.at);
    const axis = new THREE.Vector3(...(bone.freedoms[freedom]?.axis ?? [0, 1, 0])).normalize();
    // along the ring, for one degree
    const degree = hit.point.clone().sub(centre).applyAxisAngle(axis, Math.PI / 180).add(centre);
    const step = project(degree).sub(project(hit.point));
    const length = Math.max(step.length(), 0.15);
    this.tangent = step.lengthSq() > 0 ? step.normalize() : new THREE.Vector2(1, 0);
    this.perPixel = 1 / length;
  }

  angle(x: number, y: number): number {
    return this.start + new THREE.Vector2(x, y).sub(this.from).dot(this.tangent) * this.perPixel;
  }
}

function dotTexture(fill: string, rim: string): THREE.Texture {
  return drawn(64, (g) => {
    g.fillStyle = fill;
    g.strokeStyle = rim;
    g.lineWidth = 10;
    g.beginPath();
    g.arc(32, 32, 24, 0, 7);
    g.fill();
    g.stroke();
  });
}
