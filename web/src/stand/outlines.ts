import * as THREE from "three";
import type { PieceSpan } from "../api/types";

const VERTEX = `
void main() {
  vec4 at = modelViewMatrix * vec4(position, 1.0);
  // 5 mm nearer to the eye, less than any layer behind
  at.xyz *= 1.0 - 0.005 / length(at.xyz);
  gl_Position = projectionMatrix * at;
}`;
const FRAGMENT = `
uniform vec3 tint;
uniform float strength;
void main() { gl_FragColor = vec4(tint, strength); }`;

/** Flat lines drawn just in front of the cloth. */
export function lineMaterial(colour: string, strength = 1): THREE.ShaderMaterial {
  const tint = new THREE.Color().setStyle(colour, THREE.LinearSRGBColorSpace);
  return new THREE.ShaderMaterial({ vertexShader: VERTEX, fragmentShader: FRAGMENT, uniforms: { tint: { value: tint }, strength: { value: strength } }, transparent: strength < 1, toneMapped: false });
}

/** Edges of one piece that belong to a single triangle: its outline in the mesh, as pairs of vertices. */
export function boundary(index: THREE.BufferAttribute, span: PieceSpan): number[] {
  const open = new Map<number, [number, number]>();
  const most = 1 << 24;
  for (let t = span.first_triangle; t < span.first_triangle + span.triangles; t++) {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [index.getX(3 * t + k), index.getX(3 * t + ((k + 1) % 3))];
      const key = Math.min(a, b) * most + Math.max(a, b);
      if (!open.delete(key)) open.set(key, [a, b]);
    }
  }
  return [...open.values()].flat();
}

/** The outline of one piece on the stand; it shares the moving positions of the cloth. */
export class PieceOutline {
  readonly lines: THREE.LineSegments<THREE.BufferGeometry, THREE.ShaderMaterial>;

  constructor(colour: string) {
    this.lines = new THREE.LineSegments(new THREE.BufferGeometry(), lineMaterial(colour));
    this.lines.frustumCulled = false;
    this.lines.visible = false;
  }

  follow(cloth: THREE.BufferGeometry, span: PieceSpan | undefined) {
    const [position, index] = [cloth.getAttribute("position"), cloth.getIndex()];
    const geometry = new THREE.BufferGeometry();
    this.lines.visible = span !== undefined && position !== undefined && index !== null && index.count >= 3 * (span.first_triangle + span.triangles);
    if (this.lines.visible && span && index) {
      geometry.setAttribute("position", position);
      geometry.setIndex(boundary(index, span));
    }
    forget(this.lines);
    this.lines.geometry = geometry;
  }

  dispose() {
    forget(this.lines);
    this.lines.material.dispose();
  }
}

/** Frees the own index of lines or points; the positions belong to the cloth. */
export function forget(lines: THREE.LineSegments | THREE.Points) {
  lines.geometry.deleteAttribute("position");
  lines.geometry.dispose();
}
