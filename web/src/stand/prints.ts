import * as THREE from "three";
import { printAddress, printTile, printTurn } from "../api/prints";
import type { Fabric, PrintPlace } from "../api/types";

/** A fixed pseudo-random number from 0 to 1. */
export function hash(n: number): number {
  const s = Math.sin(n * 127.1) * 43758.5453;
  return s - Math.floor(s);
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

const loader = new THREE.TextureLoader();

/** Colour map of a fabric in flat coordinates (m) of a piece, or null when it is plain; `ready` is told when it can be drawn. */
export function printTexture(fabric: Fabric, grain: number, place: PrintPlace | undefined, ready: () => void): THREE.Texture | null {
  const [{ print }, address] = [fabric, printAddress(fabric)];
  if (!print || !address) return null;
  const texture = loader.load(address, ready);
  texture.wrapS = texture.wrapT = print.once ? THREE.ClampToEdgeWrapping : THREE.RepeatWrapping;
  texture.anisotropy = 8;
  texture.colorSpace = THREE.SRGBColorSpace;
  const [width, height] = printTile(print).map((mm) => mm / 1000) as [number, number];
  const turn = (printTurn(print, grain, place) * Math.PI) / 180;
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const [x, y] = [(place?.at.x ?? 0) / 1000, (place?.at.y ?? 0) / 1000];
  const middle = print.once ? 0.5 : 0;
  texture.repeat.set(1 / width, 1 / height);
  texture.rotation = turn;
  texture.offset.set(middle - (cos * x + sin * y) / width, middle - (cos * y - sin * x) / height);
  return texture;
}
