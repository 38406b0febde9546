import * as THREE from "three";
import type { Fabric } from "../api/types";

/** A fixed pseudo-random number from 0 to 1. */
function hash(n: number): number {
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

function canvas(size: number, draw: (g: CanvasRenderingContext2D) => void): HTMLCanvasElement {
  const c = document.createElement("canvas");
  c.width = size;
  c.height = size;
  const g = c.getContext("2d");
  if (g) draw(g);
  return c;
}

function repeating(source: HTMLCanvasElement, metres: number): THREE.CanvasTexture {
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

/** A plain weave as a bump map, a few threads per repeat so that it reads at arm's length. */
export function weaveTexture(): THREE.Texture {
  const source = canvas(64, (g) => {
    const image = g.createImageData(64, 64);
    for (let y = 0; y < 64; y++) {
      for (let x = 0; x < 64; x++) {
        const over = (Math.floor(x / 16) + Math.floor(y / 16)) % 2 === 0;
        const [u, v] = [((x % 16) - 7.5) / 8, ((y % 16) - 7.5) / 8];
        const height = 110 + (over ? 100 * (1 - u * u) : 100 * (1 - v * v)) + 25 * hash(x + y * 64);
        image.data.set([height, height, height, 255], (y * 64 + x) * 4);
      }
    }
    g.putImageData(image, 0, 0);
  });
  return repeating(source, 0.012);
}

/** Matte cloth with a sheen at grazing angles; the back is a little darker. */
export function clothMaterial(fabric: Fabric, weave: THREE.Texture): THREE.MeshPhysicalMaterial {
  const map = printTexture(fabric);
  const silky = fabric.swatch.startsWith("silk");
  const material = new THREE.MeshPhysicalMaterial({
    color: map ? "#ffffff" : fabric.colour,
    map,
    bumpMap: weave,
    bumpScale: silky ? 0.2 : 0.9,
    roughness: silky ? 0.45 : 0.92,
    sheen: silky ? 1 : 0.55,
    sheenRoughness: silky ? 0.3 : 0.75,
    sheenColor: new THREE.Color(fabric.colour).lerp(new THREE.Color("#ffffff"), 0.45),
    side: THREE.DoubleSide,
    shadowSide: THREE.DoubleSide,
  });
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace("#include <map_fragment>", "#include <map_fragment>\n  if (!gl_FrontFacing) diffuseColor.rgb *= 0.68;");
  };
  return material;
}
