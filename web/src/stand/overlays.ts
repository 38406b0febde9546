import * as THREE from "three";
import type { PieceSpan } from "../api/types";
import { headTexture } from "./marks";
import { boundary, forget, lineMaterial } from "./outlines";
import { token } from "../ui/token";

/** What can be drawn over the cloth. */
export type Overlay = "mesh" | "grain" | "seams" | "held";

/** What lies over the cloth and shares its moving positions: the mesh, the edges of all pieces, and where it is held. */
export class Overlays {
  readonly group = new THREE.Group();
  private mesh = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("ink"), 0.35));
  private seams = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(token("seam-line"), 0.5));
  private held = new THREE.Points(new THREE.BufferGeometry(), new THREE.PointsMaterial({ color: token("thread"), size: 5, sizeAttenuation: false, map: headTexture(), transparent: true, alphaTest: 0.4 }));
  private heldAt: number[] = [];
  private shown: ReadonlySet<Overlay> = new Set();
  private cloth: THREE.BufferGeometry | null = null;
  private spans: PieceSpan[] = [];

  constructor() {
    for (const lines of [this.mesh, this.seams]) {
      lines.frustumCulled = false;
      this.group.add(lines);
    }
    this.held.frustumCulled = false;
    // a little towards the eye, so that the cloth they lie on does not cover half of them
    this.held.material.onBeforeCompile = (shader) => {
      shader.vertexShader = shader.vertexShader.replace("#include <fog_vertex>", "gl_Position.z -= 0.0006 * gl_Position.w;\n#include <fog_vertex>");
    };
    this.group.add(this.held);
  }

  follow(cloth: THREE.BufferGeometry, spans: PieceSpan[], held: number[]) {
    this.cloth = cloth;
    this.heldAt = held;
    this.spans = spans;
    for (const lines of [this.mesh, this.seams, this.held]) {
      forget(lines);
      lines.geometry = new THREE.BufferGeometry();
    }
    this.show(this.shown);
  }

  dispose() {
    for (const lines of [this.mesh, this.seams]) {
      forget(lines);
      lines.material.dispose();
    }
    forget(this.held);
    this.held.material.dispose();
  }

  show(shown: ReadonlySet<Overlay>) {
    this.shown = shown;
    const index = this.cloth?.getIndex();
    const position = this.cloth?.getAttribute("position");
    this.mesh.visible = shown.has("mesh") && Boolean(index);
    this.seams.visible = shown.has("seams") && Boolean(index);
    this.held.visible = shown.has("held") && this.heldAt.length > 0 && Boolean(position);
    if (!index || !position) return;
    if (this.held.visible && !this.held.geometry.getIndex()) {
      this.held.geometry.setAttribute("position", position);
      this.held.geometry.setIndex(this.heldAt.filter((v) => v < position.count));
    }
    const draw = (lines: THREE.LineSegments, edges: () => number[]) => {
      if (!lines.visible || lines.geometry.getIndex()) return;
      lines.geometry.setAttribute("position", position);
      lines.geometry.setIndex(edges());
    };
    draw(this.mesh, () => meshEdges(index));
    draw(this.seams, () => this.spans.filter((s) => 3 * (s.first_triangle + s.triangles) <= index.count).flatMap((span) => boundary(index, span)));
  }
}

/** Every edge of the triangles once. */
function meshEdges(index: THREE.BufferAttribute): number[] {
  const edges: number[] = [];
  const most = 1 << 24;
  const seen = new Set<number>();
  for (let t = 0; t < index.count; t += 3) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [index.getX(t + k), index.getX(t + ((k + 1) % 3))];
      const key = Math.min(a, b) * most + Math.max(a, b);
      if (seen.has(key)) continue;
      seen.add(key);
      edges.push(a, b);
    }
  }
  return edges;
}
