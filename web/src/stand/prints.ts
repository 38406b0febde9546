import * as THREE from "three";
import type { Fabric } from "../api/types";

/** A fixed pseudo-random number from 0 to 1. */
export function hash(n: number): number {
  const s = Math.sin(n * 127.1) * 43758.5453;
  return s - Math.floor(s);
}

/** Our own motif: salt crystals, cubes seen on edge, scattered on a half-drop repeat. */
function saltCrystals(g: CanvasRenderingContext2D, size: number, colour: string) {
  g.strokeStyle = colour;
  g.fillStyle = colour;
  g.lineWidth = size / 170;
  const crystal = (x: number, y: number, r: number, turn: number) => {
    g.save();
    g.translate(x, y);
    g.rotate(turn);
    g.beginPath();
    for (let k = 0; k < 6; k++) g[k === 0 ? "moveTo" : "lineTo"](r * Math.sin((k * Math.PI) / 3), -r * Math.cos((k * Math.PI) / 3));
    g.closePath();
    for (const k of [1, 3, 5]) {
      g.moveTo(0, 0);
      g.lineTo(r * Math.sin((k * Math.PI) / 3), -r * Math.cos((k * Math.PI) / 3));
    }
    g.stroke();
    g.restore();
  };
  const spots = [
    [0.25, 0.25],
    [0.75, 0.75],
  ] as const;
  for (const [x, y] of spots) {
    crystal(x * size, y * size, size * 0.13, 0.2);
    crystal((x + 0.17) * size, (y + 0.11) * size, size * 0.06, 0.7);
    crystal((x - 0.15) * size, (y + 0.13) * size, size * 0.045, 0.1);
  }
  for (let k = 0; k < 26; k++) {
    g.beginPath();
    g.arc(hash(k) * size, hash(k + 50) * size, size * (0.003 + 0.004 * hash(k + 90)), 0, 7);
    g.fill();
  }
}

export function canvas(size: number, draw: (g: CanvasRenderingContext2D) => void): HTMLCanvasElement {
  const c = document.createElement("canvas");
  c.width = size;
  c.height = size;
  const g = c.getContext("2d");
  if (g) draw(g);
  return c;
}

export function repeating(source: HTMLCanvasElement, metres: number): THREE.CanvasTexture {
  const texture = new THREE.CanvasTexture(source);
  texture.wrapS = THREE.RepeatWrapping;
  texture.wrapT = THREE.RepeatWrapping;
  texture.repeat.set(1 / metres, 1 / metres);
  texture.anisotropy = 8;
  return texture;
}

/** Colour map of a fabric in flat coordinates, or null when it is plain. */
export function printTexture(fabric: Fabric): THREE.Texture | null {
  const { print } = fabric;
  if (!print) return null;
  const source = canvas(512, (g) => {
    g.fillStyle = fabric.colour;
    g.fillRect(0, 0, 512, 512);
    saltCrystals(g, 512, print.colour);
  });
  const texture = repeating(source, print.repeat / 1000);
  texture.colorSpace = THREE.SRGBColorSpace;
  return texture;
}
