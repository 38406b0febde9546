import * as THREE from "three";
import { create } from "zustand";
import type { PieceId, StationShown } from "../api/types";
import { token } from "../ui/token";

/** Spots where a piece can hang, while one is carried to the stand or is to be placed. */
interface SpotState {
  /** The piece that is carried from the table. */
  carried: PieceId | null;
  /** The spot nearest to the pointer. */
  near: StationShown | null;
  /** Finds the spot nearest to a place of the window; set by the stand. */
  find: ((x: number, y: number) => StationShown | null) | null;
}

export const useSpots = create<SpotState>(() => ({ carried: null, near: null, find: null }));

/** Farthest from a spot that still means it, px. */
const REACH = 60;

/** The spots on the body, as dots; the nearest one is ringed and shows how a piece wraps there. */
export class Spots {
  readonly group = new THREE.Group();
  private all: { station: StationShown; dot: THREE.Sprite }[] = [];
  private readonly ring = new THREE.Mesh(new THREE.RingGeometry(0.018, 0.024, 32), new THREE.MeshBasicMaterial({ color: token("thread"), depthTest: false, side: THREE.DoubleSide }));
  private readonly wrap = new THREE.Line(new THREE.BufferGeometry(), new THREE.LineBasicMaterial({ color: token("thread"), depthTest: false }));
  private dots = dotTexture();

  constructor() {
    for (const thing of [this.ring, this.wrap]) {
      thing.renderOrder = 24;
      thing.visible = false;
      this.group.add(thing);
    }
    this.group.visible = false;
  }

  show(stations: StationShown[]) {
    for (const { dot } of this.all) {
      dot.material.dispose();
      this.group.remove(dot);
    }
    this.all = stations.map((station) => {
      const dot = new THREE.Sprite(new THREE.SpriteMaterial({ map: this.dots, depthTest: true, sizeAttenuation: false, transparent: true }));
      dot.scale.setScalar(0.012);
      dot.position.set(...station.at);
      dot.renderOrder = 23;
      this.group.add(dot);
      return { station, dot };
    });
  }

  /** The spot nearest to a place of the canvas that faces the camera. */
  nearest(x: number, y: number, camera: THREE.Camera, project: (p: THREE.Vector3) => THREE.Vector2): StationShown | null {
    let best: { station: StationShown; off: number } | null = null;
    for (const { station, dot } of this.all) {
      const faces = camera.position.clone().sub(dot.position).dot(new THREE.Vector3(...station.out)) > 0;
      const off = project(dot.position).distanceTo(new THREE.Vector2(x, y));
      if (faces && off < REACH && (!best || off < best.off)) best = { station, off };
    }
    return best?.station ?? null;
  }

  /** Rings a spot, with a line to both sides along which a piece goes around. */
  mark(station: StationShown | null) {
    this.ring.visible = station !== null;
    this.wrap.visible = station !== null;
    if (!station) return;
    const [at, out, right, up] = [station.at, station.out, station.right, station.up].map((v) => new THREE.Vector3(...v)) as [THREE.Vector3, THREE.Vector3, THREE.Vector3, THREE.Vector3];
    this.ring.position.copy(at);
    this.ring.lookAt(at.clone().add(out));
    const points = [-0.12, -0.09, -0.06, -0.03, 0, 0.03, 0.06, 0.09, 0.12].map((x) => at.clone().addScaledVector(right, x).addScaledVector(out, 0.01 - 3 * x * x));
    points.push(at.clone().addScaledVector(out, 0.01), at.clone().addScaledVector(up, 0.07).addScaledVector(out, 0.01));
    this.wrap.geometry.setFromPoints(points);
  }

  dispose() {
    this.show([]);
    this.dots.dispose();
    for (const thing of [this.ring, this.wrap]) {
      thing.geometry.dispose();
      thing.material.dispose();
    }
  }
}

function dotTexture(): THREE.Texture {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 32;
  const c = canvas.getContext("2d");
  if (c) {
    c.fillStyle = token("card");
    c.strokeStyle = token("ink");
    c.lineWidth = 4;
    c.beginPath();
    c.arc(16, 16, 11, 0, 2 * Math.PI);
    c.fill();
    c.stroke();
  }
  return new THREE.CanvasTexture(canvas);
}
