import * as THREE from "three";
import type { CrossingPlace } from "../api/types";
import { token } from "../ui/token";
import { clearFlags, flagSprite, SMALL_FLAG } from "./marks";
import { lineMaterial } from "./outlines";

/** Half the width of the box around a place that is looked at by itself, m. */
const AROUND = 0.09;

/** Numbered flags at crossings, and the curves along which surfaces cross. */
export class Faults {
  readonly group = new THREE.Group();
  private readonly flags = new THREE.Group();
  private readonly curves = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("brick"), 1));

  constructor() {
    this.curves.frustumCulled = false;
    this.curves.renderOrder = 9;
    this.curves.material.depthTest = false;
    this.group.add(this.curves, this.flags);
  }

  show(crossings: CrossingPlace[]) {
    clearFlags(this.flags);
    crossings.forEach((c, i) => {
      const flag = flagSprite(String(i + 1), token("brick"), SMALL_FLAG);
      flag.position.set(...c.at);
      this.flags.add(flag);
    });
    this.curves.geometry.dispose();
    this.curves.geometry = new THREE.BufferGeometry();
    this.curves.geometry.setAttribute("position", new THREE.Float32BufferAttribute(crossings.flatMap((c) => c.curve.flat(2)), 3));
  }

  /** Flags step aside where one looks at a place closely. */
  lower(lowered: boolean) {
    this.flags.visible = !lowered;
  }
}

/** The sides of a box around a place: nothing beyond them is drawn. */
export function boxAround(at: [number, number, number]): THREE.Plane[] {
  const ways = [0, 1, 2].flatMap((k) => [1, -1].map((sign) => new THREE.Vector3().setComponent(k, sign)));
  const middle = new THREE.Vector3(...at);
  return ways.map((way) => new THREE.Plane(way, AROUND - way.dot(middle)));
}
