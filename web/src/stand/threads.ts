import * as THREE from "three";
import { forget, lineMaterial } from "./outlines";
import { token } from "../ui/token";

/** Which threads are drawn: those of the seam in hand, and all others more faintly. */
export interface ShownThreads {
  /** Numbers of the seam's sides in the layout. */
  chosen: number[];
  all: boolean;
}

/** Threads from vertex to vertex of what is to be sewn; they share the moving positions of the cloth and vanish as seams close. */
export class Threads {
  readonly group = new THREE.Group();
  private readonly all = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("thread"), 0.4));
  private readonly chosen = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("thread")));
  private pairs: Uint32Array = new Uint32Array();
  private shown: ShownThreads = { chosen: [], all: false };

  constructor() {
    for (const lines of [this.all, this.chosen]) {
      lines.frustumCulled = false;
      this.group.add(lines);
    }
    // those in hand are seen through cloth and body
    this.chosen.material.depthTest = false;
    this.chosen.renderOrder = 2;
  }

  /** Takes up the pairs of a layout, three numbers each. */
  read(pairs: Uint32Array) {
    this.pairs = pairs;
  }

  show(shown: ShownThreads, cloth: THREE.BufferGeometry) {
    this.shown = shown;
    this.follow(cloth);
  }

  /** Draws between the positions of this cloth from now on. */
  follow(cloth: THREE.BufferGeometry) {
    const { chosen, all } = this.shown;
    this.draw(this.chosen, cloth, (seam) => chosen.includes(seam));
    this.draw(this.all, cloth, (seam) => all && !chosen.includes(seam));
  }

  private draw(lines: THREE.LineSegments, cloth: THREE.BufferGeometry, counts: (seam: number) => boolean) {
    const position = cloth.getAttribute("position");
    const ends: number[] = [];
    for (let k = 0; k + 2 < this.pairs.length; k += 3) {
      const [a, b, seam] = [this.pairs[k] ?? 0, this.pairs[k + 1] ?? 0, this.pairs[k + 2] ?? 0];
      if (position && counts(seam) && a < position.count && b < position.count) ends.push(a, b);
    }
    const geometry = new THREE.BufferGeometry();
    lines.visible = ends.length > 0;
    if (position && lines.visible) {
      geometry.setAttribute("position", position);
      geometry.setIndex(ends);
    }
    forget(lines);
    lines.geometry = geometry;
  }

  dispose() {
    for (const lines of [this.all, this.chosen]) {
      forget(lines);
      (lines.material as THREE.Material).dispose();
    }
  }
}
