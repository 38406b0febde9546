import * as THREE from "three";
import { drawn } from "../stand/marks";
import type { LandmarkOffer } from "../api/types";
import { token } from "../ui/token";

const NEAR = 12;

/** A place that can be dragged; with an axis, along it alone. */
export type Mark = LandmarkOffer & { axis?: [number, number, number] };

/** Landmarks of a figure as small diamonds with their names; each can be dragged in the plane of the picture. */
export class Landmarks {
  readonly group = new THREE.Group();
  private marks: { offer: Mark; dot: THREE.Sprite; label: THREE.Sprite }[] = [];
  private shown = "";
  private diamond = diamondTexture();

  show(offers: Mark[]) {
    const key = JSON.stringify(offers);
    if (key === this.shown) return;
    this.shown = key;
    for (const { dot, label } of this.marks) {
      label.material.map?.dispose();
      this.group.remove(dot, label);
    }
    this.marks = offers.map((offer) => {
      const dot = new THREE.Sprite(new THREE.SpriteMaterial({ map: this.diamond, depthTest: false, sizeAttenuation: false }));
      dot.scale.setScalar(0.014);
      // the body's right is on the left of the picture, and there its names are too
      const label = labelSprite(offer.name.replace(/, .*/, ""), offer.key.endsWith("-right"));
      dot.renderOrder = 22;
      label.renderOrder = 21;
      this.group.add(dot, label);
      const mark = { offer, dot, label };
      put(mark, new THREE.Vector3(...offer.at).multiplyScalar(0.001));
      return mark;
    });
  }

  at(x: number, y: number, project: (p: THREE.Vector3) => THREE.Vector2): string | null {
    if (!this.group.visible) return null;
    const off = (m: { dot: THREE.Sprite }) => project(m.dot.position).distanceTo(new THREE.Vector2(x, y));
    const nearest = this.marks.reduce<(typeof this.marks)[number] | null>((best, m) => (best && off(best) <= off(m) ? best : m), null);
    return nearest && off(nearest) < NEAR ? nearest.offer.key : null;
  }

  place(key: string): THREE.Vector3 | null {
    return this.marks.find((m) => m.offer.key === key)?.dot.position.clone() ?? null;
  }

  /** Puts a mark where it is dragged to, or as near as its axis allows. */
  move(key: string, to: THREE.Vector3) {
    const mark = this.marks.find((m) => m.offer.key === key);
    if (!mark) return;
    const { at, axis } = mark.offer;
    if (!axis) return put(mark, to);
    const start = new THREE.Vector3(...at).multiplyScalar(0.001);
    const along = new THREE.Vector3(...axis).normalize();
    put(mark, start.clone().addScaledVector(along, to.clone().sub(start).dot(along)));
  }
}

function put(mark: { dot: THREE.Sprite; label: THREE.Sprite }, at: THREE.Vector3) {
  mark.dot.position.copy(at);
  mark.label.position.copy(at);
}

function diamondTexture(): THREE.Texture {
  return drawn(64, (g) => {
    g.translate(32, 32);
    g.rotate(Math.PI / 4);
    g.fillStyle = token("tape");
    g.strokeStyle = token("ink");
    g.lineWidth = 8;
    g.fillRect(-17, -17, 34, 34);
    g.strokeRect(-17, -17, 34, 34);
  });
}

function labelSprite(text: string, before: boolean): THREE.Sprite {
  const c = document.createElement("canvas");
  const g = c.getContext("2d");
  const font = "500 26px 'Instrument Sans Variable', sans-serif";
  if (g) g.font = font;
  c.width = Math.ceil(g?.measureText(text).width ?? 100) + 44;
  c.height = 40;
  if (g) {
    g.font = font;
    g.textBaseline = "middle";
    g.lineWidth = 6;
    g.strokeStyle = "rgba(255,253,248,0.9)";
    const from = before ? 12 : 32;
    g.strokeText(text, from, 20);
    g.fillStyle = token("ink");
    g.fillText(text, from, 20);
  }
  const map = new THREE.CanvasTexture(c);
  map.colorSpace = THREE.SRGBColorSpace;
  const label = new THREE.Sprite(new THREE.SpriteMaterial({ map, depthTest: false, sizeAttenuation: false, transparent: true }));
  label.center.set(before ? 1 : 0, 0.5);
  label.scale.set((0.0135 * c.width) / c.height, 0.0135, 1);
  return label;
}
