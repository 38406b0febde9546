import * as THREE from "three";
import type { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { Press } from "../pointer/press";

/** Grabs cloth and pulls it; positions in m. */
export interface Tugging {
  grab: (vertex: number) => void;
  pull: (at: [number, number, number]) => void;
  /** `keep` leaves the hand where it is. */
  release: (keep: boolean) => void;
}

/** Moves a hung piece: asked when cloth is pressed, told how far the pointer has gone, m. */
export interface Placing {
  take: (triangle: number) => boolean;
  move: (by: THREE.Vector3, turns: boolean) => void;
  done: (keep: boolean) => void;
}

/** Hears which triangle of the cloth is under the pointer, or none. */
export interface Looking {
  over: (triangle: number | null) => void;
  click: (triangle: number | null, point: THREE.Vector3 | null, more: boolean) => void;
}

type Cloth = THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>;

/** What the pointer does on the stand: points at pieces, clicks them, or tugs the cloth. */
export class Pointing {
  tugging: Tugging | null = null;
  looking: Looking | null = null;
  placing: Placing | null = null;
  private placed: { plane: THREE.Plane; from: THREE.Vector3 } | null = null;
  /** Hears at which vertex a pin is set or taken out. */
  pinning: ((vertex: number) => void) | null = null;
  private pulled: THREE.Plane | null = null;
  private pressed: Press | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly camera: THREE.Camera,
    private readonly controls: OrbitControls,
    private readonly cloth: Cloth,
    private readonly body: () => THREE.Object3D | null,
  ) {
    canvas.addEventListener("pointerdown", this.onDown, { capture: true });
    canvas.addEventListener("pointermove", this.onMove);
    canvas.addEventListener("pointerup", this.onUp);
    canvas.addEventListener("pointercancel", this.onLost);
    canvas.addEventListener("pointerleave", this.onLeave);
  }

  private ray(e: PointerEvent): THREE.Raycaster {
    const box = this.canvas.getBoundingClientRect();
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(((e.clientX - box.left) / box.width) * 2 - 1, 1 - ((e.clientY - box.top) / box.height) * 2), this.camera);
    return ray;
  }

  /** The cloth under the pointer, unless the body is in front of it. */
  private hit(e: PointerEvent): THREE.Intersection | null {
    if (!this.cloth.visible || !this.cloth.geometry.getIndex()) return null;
    const ray = this.ray(e);
    const [cloth] = ray.intersectObject(this.cloth);
    if (!cloth) return null;
    const body = this.body();
    const [skin] = body ? ray.intersectObject(body) : [];
    return skin && skin.distance < cloth.distance - 0.004 ? null : cloth;
  }

  private triangle(e: PointerEvent): number | null {
    return this.hit(e)?.faceIndex ?? null;
  }

  private onDown = (e: PointerEvent) => {
    if (e.button !== 0) return;
    if (this.pressed && !this.pressed.owns(e)) return this.onLost();
    this.pressed = new Press(e);
    if (!this.tugging && this.placing) {
      const cloth = this.hit(e);
      if (cloth?.faceIndex == null || !this.placing.take(cloth.faceIndex)) return;
      const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(this.camera.getWorldDirection(new THREE.Vector3()), cloth.point);
      this.placed = { plane, from: cloth.point.clone() };
      this.controls.enabled = false;
      this.canvas.setPointerCapture(e.pointerId);
      return;
    }
    if (!this.tugging) return;
    const hit = this.hit(e);
    if (!hit?.face) return;
    const vertex = this.nearest(hit.face, hit.point);
    this.pulled = new THREE.Plane().setFromNormalAndCoplanarPoint(this.camera.getWorldDirection(new THREE.Vector3()), hit.point);
    this.controls.enabled = false;
    this.canvas.setPointerCapture(e.pointerId);
    this.tugging.grab(vertex);
  };

  private nearest(face: THREE.Face, point: THREE.Vector3): number {
    const position = this.cloth.geometry.getAttribute("position");
    const near = (v: number) => new THREE.Vector3().fromBufferAttribute(position, v).distanceTo(point);
    return [face.a, face.b, face.c].reduce((a, b) => (near(b) < near(a) ? b : a));
  }

  private click(e: PointerEvent) {
    const hit = this.pinning ? this.hit(e) : null;
    if (this.pinning && hit?.face) this.pinning(this.nearest(hit.face, hit.point));
    else if (!this.pinning) {
      const cloth = this.hit(e);
      this.looking?.click(cloth?.faceIndex ?? null, cloth?.point ?? null, e.shiftKey);
    }
  }

  private onMove = (e: PointerEvent) => {
    this.pressed?.moved(e);
    if (this.placed) {
      const at = this.ray(e).ray.intersectPlane(this.placed.plane, new THREE.Vector3());
      if (at && this.pressed?.moved(e)) this.placing?.move(at.sub(this.placed.from), e.shiftKey);
    } else if (this.pulled) {
      const at = this.ray(e).ray.intersectPlane(this.pulled, new THREE.Vector3());
      if (at) this.tugging?.pull([at.x, at.y, at.z]);
    } else if (e.buttons === 0) this.looking?.over(this.triangle(e));
  };

  private onUp = (e: PointerEvent) => {
    const { pressed } = this;
    this.pressed = null;
    if (this.placed) {
      this.placed = null;
      this.controls.enabled = true;
      const moved = pressed?.moved(e) ?? false;
      this.placing?.done(moved);
      if (!moved && pressed?.owns(e)) this.click(e);
    } else if (this.pulled) {
      this.pulled = null;
      this.controls.enabled = true;
      this.tugging?.release(e.shiftKey);
    } else if (pressed?.owns(e) && e.button === 0 && !pressed.moved(e)) this.click(e);
  };

  /** The pointer was lost, or a second finger came: the hand opens and nothing is clicked. */
  private onLost = () => {
    this.pressed = null;
    if (this.placed) {
      this.placed = null;
      this.controls.enabled = true;
      this.placing?.done(false);
    }
    if (!this.pulled) return;
    this.pulled = null;
    this.controls.enabled = true;
    this.tugging?.release(false);
  };

  private onLeave = () => this.looking?.over(null);
}
