import * as THREE from "three";
import type { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { TransformControls } from "three/examples/jsm/controls/TransformControls.js";
import type { RoughSpot, StandIn } from "../api/types";
import { Press } from "../pointer/press";
import { Joints, RingDrag } from "./joints";
import { Landmarks, type Mark } from "./landmarks";
import { handled, StandIns } from "./standins";
import type { Point3 } from "./point";
import type { BodyTab } from "./store";
import { TapeLines } from "./tapes";
import type { BodyView } from "./view";
import { token } from "../ui/token";
import { known } from "../pointer/gesture";

/** What the pointer does to the body on the stand. */
export interface BodyHand {
  pickJoint: (key: string | null) => void;
  /** An angle in degrees while a ring is dragged, and once more when it is let go. */
  turn: (key: string, freedom: number, degrees: number, done: boolean) => void;
  pickShape: (index: number | null) => void;
  reshape: (index: number, shape: StandIn, done: boolean) => void;
  /** A point of the skin, mm on the neutral pose. */
  layAt: (point: Point3) => void;
  /** Points of the skin over which the brush has gone so far, and once more when it is lifted. */
  roughen: (points: Point3[], done: boolean) => void;
  /** What was tried out is not kept. */
  cancel: () => void;
  /** A landmark is dragged to a place, mm, and once more when it is let go. */
  moveLandmark: (key: string, at: Point3, done: boolean) => void;
}

export interface BodyLook {
  tab: BodyTab | null;
  joint: string | null;
  angles: Record<string, Point3>;
  shapes: StandIn[];
  shape: number | null;
  handling: "move" | "turn" | "scale";
  laying: Point3[] | null;
  /** The brush in hand, mm, and all rough places of the skin. */
  roughing: { radius: number } | null;
  rough: RoughSpot[];
  landmarks: Mark[];
}

const PALE = new THREE.Color(token("white"));
const ROUGH = PALE.clone().lerp(new THREE.Color(token("moss")), 0.55);
const FADED = new THREE.Color(token("faded"));
const MODES = { move: "translate", turn: "rotate", scale: "scale" } as const;

/** Joints, stand-ins and tapes around the body, and the pointer on them. */
export class BodyStand {
  /** Ends what the keys know of a drag here. */
  private readonly forget: () => void;
  readonly group = new THREE.Group();
  hand: BodyHand | null = null;
  private joints = new Joints();
  private shapes = new StandIns();
  private tapes = new TapeLines();
  private landmarks = new Landmarks();
  private handles: TransformControls;
  private view: BodyView | null = null;
  private look: BodyLook = { tab: null, joint: null, angles: {}, shapes: [], shape: null, handling: "move", laying: null, roughing: null, rough: [], landmarks: [] };
  private drag: RingDrag | null = null;
  private stroke: Point3[] | null = null;
  private dragged: { key: string; plane: THREE.Plane } | null = null;
  private pressed: Press | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly camera: THREE.Camera,
    private readonly controls: OrbitControls,
    private readonly body: () => THREE.Mesh | null,
    private readonly stir: () => void,
  ) {
    this.group.add(this.joints.group, this.shapes.group, this.tapes.group, this.landmarks.group);
    this.handles = new TransformControls(camera, canvas);
    this.handles.size = 0.7;
    this.handles.setColors(token("axis-x"), token("axis-y"), token("axis-z"), token("tape-line"));
    this.handles.addEventListener("dragging-changed", (e) => {
      this.controls.enabled = e.value !== true;
      if (e.value !== true) this.reshaped(true);
    });
    this.handles.addEventListener("objectChange", () => this.reshaped(false));
    this.handles.addEventListener("change", () => this.stir());
    this.group.add(this.handles.getHelper());
    canvas.addEventListener("pointerdown", this.onDown, { capture: true });
    canvas.addEventListener("pointermove", this.onMove);
    canvas.addEventListener("pointerup", this.onUp);
    canvas.addEventListener("pointercancel", this.onLost);
    this.forget = known({ active: () => Boolean(this.drag || this.dragged || this.stroke), cancel: () => this.onLost() });
  }

  show(view: BodyView | null, look: BodyLook) {
    this.view = view;
    this.look = look;
    const bones = view?.head.bones ?? [];
    this.joints.group.visible = look.tab === "pose";
    this.joints.show(bones, look.joint);
    this.shapes.group.visible = true;
    this.handles.detach();
    this.shapes.show(look.shapes, bones, look.tab === "contact" ? look.shape : null);
    const mesh = look.tab === "contact" ? this.shapes.mesh(look.shape) : null;
    if (mesh) {
      this.handles.setMode(MODES[look.handling]);
      this.handles.attach(mesh);
    }
    this.tapes.group.visible = look.tab === "tape";
    this.tapes.show(view, look.laying);
    this.landmarks.group.visible = look.landmarks.length > 0;
    this.landmarks.show(look.landmarks);
    this.stir();
  }

  /** Colours that show which parts cloth passes through. */
  tint(geometry: THREE.BufferGeometry, view: BodyView, look: BodyLook) {
    const on = look.tab === "contact";
    const colour = geometry.getAttribute("color");
    const out = view.head.parts.map((p) => on && p.out);
    for (let v = 0; v < view.head.vertices; v++) {
      const c = out[view.parts[v] ?? 0] ? FADED : PALE;
      colour.setXYZ(v, c.r, c.g, c.b);
    }
    for (const { at, radius } of on ? look.rough : []) {
      const [x, y, z, reach] = [at[0], at[1], at[2], radius].map((mm) => mm / 1000) as [number, number, number, number];
      for (let v = 0; v < view.head.vertices; v++) {
        const away = Math.hypot((view.neutral[3 * v] ?? 0) - x, (view.neutral[3 * v + 1] ?? 0) - y, (view.neutral[3 * v + 2] ?? 0) - z);
        if (away < reach) colour.setXYZ(v, ROUGH.r, ROUGH.g, ROUGH.b);
      }
    }
    colour.needsUpdate = true;
  }

  /** Whether the pointer belongs to the body just now. */
  get busy(): boolean {
    return this.look.tab === "pose" || this.look.tab === "tape" || this.look.tab === "contact";
  }

  private project = (p: THREE.Vector3): THREE.Vector2 => {
    const q = p.clone().project(this.camera);
    return new THREE.Vector2(((q.x + 1) / 2) * this.canvas.clientWidth, ((1 - q.y) / 2) * this.canvas.clientHeight);
  };

  private place(e: PointerEvent): [number, number] {
    const box = this.canvas.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  }

  private ray(e: PointerEvent): THREE.Raycaster {
    const [x, y] = this.place(e);
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2), this.camera);
    return ray;
  }

  private onDown = (e: PointerEvent) => {
    if (e.button !== 0) return;
    if (this.pressed && !this.pressed.owns(e)) return this.onLost();
    this.pressed = new Press(e);
    this.takeLandmark(e);
    if (!this.busy) return;
    if (this.look.tab === "contact" && this.look.roughing) return this.beginStroke(e);
    if (this.look.tab !== "pose") return;
    const [x, y] = this.place(e);
    const { bone } = this.joints;
    const hit = bone ? this.joints.ringAt(x, y, this.project) : null;
    if (!bone || !hit) return;
    const start = this.look.angles[bone.key]?.[hit.freedom] ?? 0;
    this.drag = new RingDrag(hit.freedom, start, bone, hit, new THREE.Vector2(x, y), this.project);
    this.controls.enabled = false;
    this.canvas.setPointerCapture(e.pointerId);
  };

  private beginStroke(e: PointerEvent) {
    const at = this.skinAt(e);
    if (!at) return;
    this.stroke = [at];
    this.controls.enabled = false;
    this.canvas.setPointerCapture(e.pointerId);
    this.hand?.roughen(this.stroke, false);
  }

  /** A spot for every half radius of the way. */
  private strokeTo(e: PointerEvent) {
    const at = this.skinAt(e);
    const last = this.stroke?.at(-1);
    if (!at || !last || !this.stroke || !this.look.roughing) return;
    if (Math.hypot(at[0] - last[0], at[1] - last[1], at[2] - last[2]) < this.look.roughing.radius / 2) return;
    this.stroke = [...this.stroke, at];
    this.hand?.roughen(this.stroke, false);
  }

  private takeLandmark(e: PointerEvent) {
    const key = this.landmarks.at(...this.place(e), this.project);
    const at = key && this.landmarks.place(key);
    if (!key || !at) return;
    const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(this.camera.getWorldDirection(new THREE.Vector3()), at);
    this.dragged = { key, plane };
    this.controls.enabled = false;
    this.canvas.setPointerCapture(e.pointerId);
  }

  private landmarkTo(key: string, done: boolean) {
    const at = this.landmarks.place(key);
    if (at) this.hand?.moveLandmark(key, at.multiplyScalar(1000).toArray().map((v) => Math.round(v * 10) / 10) as Point3, done);
  }

  private turnTo(e: PointerEvent, done: boolean) {
    const { bone } = this.joints;
    if (!this.drag || !bone) return;
    const limits = bone.freedoms[this.drag.freedom];
    const angle = Math.min(limits?.high ?? 0, Math.max(limits?.low ?? 0, this.drag.angle(...this.place(e))));
    this.hand?.turn(bone.key, this.drag.freedom, Math.round(angle * 2) / 2, done);
  }

  private onMove = (e: PointerEvent) => {
    const shaken = this.pressed !== null && !this.pressed.moved(e);
    if (this.drag) return shaken ? undefined : this.turnTo(e, false);
    if (this.stroke) return shaken ? undefined : this.strokeTo(e);
    if (this.dragged) {
      if (shaken) return;
      const at = this.ray(e).ray.intersectPlane(this.dragged.plane, new THREE.Vector3());
      if (at) this.landmarks.move(this.dragged.key, at);
      this.landmarkTo(this.dragged.key, false);
      return this.stir();
    }
    if (e.buttons === 0 && this.landmarks.group.visible) this.canvas.style.cursor = this.landmarks.at(...this.place(e), this.project) ? "grab" : "";
    if (e.buttons !== 0 || this.look.tab !== "pose") return;
    const [x, y] = this.place(e);
    const near = this.joints.jointAt(x, y, this.project) ?? this.joints.ringAt(x, y, this.project);
    this.canvas.style.cursor = near ? "pointer" : "";
  };

  private onUp = (e: PointerEvent) => {
    const { pressed } = this;
    this.pressed = null;
    if (this.stroke) {
      this.hand?.roughen(this.stroke, true);
      this.stroke = null;
      this.controls.enabled = true;
    } else if (this.dragged) {
      const { key } = this.dragged;
      this.dragged = null;
      this.controls.enabled = true;
      if (pressed?.isDrag) this.landmarkTo(key, true);
    } else if (this.drag) {
      if (pressed?.isDrag) this.turnTo(e, true);
      this.drag = null;
      this.controls.enabled = true;
    } else if (pressed?.owns(e) && e.button === 0 && !pressed.moved(e)) this.click(e);
  };

  /** The pointer was lost, Escape was pressed or a second finger came: all is as before. */
  private onLost = () => {
    this.pressed = null;
    if (this.drag || this.dragged || this.stroke) this.hand?.cancel();
    this.stroke = null;
    this.drag = null;
    this.dragged = null;
    this.controls.enabled = true;
    this.landmarks.show(this.look.landmarks);
    this.stir();
  };

  private click(e: PointerEvent) {
    if (this.look.tab === "pose") {
      const key = this.joints.jointAt(...this.place(e), this.project);
      if (key) this.hand?.pickJoint(key);
    }
    if (this.look.tab === "contact" && !this.handles.axis) {
      const [shape] = this.ray(e).intersectObjects(this.shapes.group.children, false);
      this.hand?.pickShape(shape ? (shape.object.userData.index as number) : null);
    }
    const skin = this.look.tab === "tape" && this.look.laying ? this.skinAt(e) : null;
    if (skin) this.hand?.layAt(skin);
  }

  /** The point of the skin under the pointer, in mm on the neutral pose. */
  private skinAt(e: PointerEvent): Point3 | null {
    const body = this.body();
    const [hit] = body ? this.ray(e).intersectObject(body) : [];
    if (!hit?.face || !this.view) return null;
    const { positions, neutral } = this.view;
    const at = (array: Float32Array, v: number) => new THREE.Vector3().fromArray(array, v * 3);
    const corners = [hit.face.a, hit.face.b, hit.face.c] as const;
    const [a, b, c] = corners.map((v) => at(positions, v)) as [THREE.Vector3, THREE.Vector3, THREE.Vector3];
    const weights = THREE.Triangle.getBarycoord(hit.point, a, b, c, new THREE.Vector3());
    if (!weights) return null;
    const point = new THREE.Vector3();
    corners.forEach((v, k) => point.addScaledVector(at(neutral, v), weights.getComponent(k)));
    return point.multiplyScalar(1000).toArray().map((v) => Math.round(v * 10) / 10) as Point3;
  }

  private reshaped(done: boolean) {
    const { shape } = this.look;
    const mesh = this.shapes.mesh(shape);
    const old = shape === null ? undefined : this.look.shapes[shape];
    if (mesh && old && shape !== null) this.hand?.reshape(shape, handled(old, mesh, this.view?.head.bones ?? []), done);
  }

  dispose() {
    this.forget();
    this.handles.dispose();
  }
}
