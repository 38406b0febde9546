import * as THREE from "three";
import type { Fabric, Look, PrintPlace } from "../api/types";
import { printReady } from "./light";
import { canvas, hash, printTexture, repeating } from "./prints";
import { token } from "../ui/token";

/** Surface of a cloth: its relief over one repeat (0 to 1), the repeat in m, and how it takes light. */
interface Surface {
  relief: (u: number, v: number, noise: number) => number;
  repeat: number;
  bump: number;
  roughness: number;
  sheen: number;
  sheenRoughness: number;
  opacity: number;
  /** Gloss of a coat over it, as on leather. */
  coat: number;
}

const round = (x: number) => 1 - (2 * (x - Math.floor(x)) - 1) ** 2;
const plainWeave = (u: number, v: number) => ((Math.floor(4 * u) + Math.floor(4 * v)) % 2 === 0 ? round(4 * u) : round(4 * v));

const SURFACES: Record<Look, Surface> = {
  plain: { relief: (u, v, n) => 0.35 + 0.5 * plainWeave(u, v) + 0.15 * n, repeat: 0.012, bump: 0.9, roughness: 0.92, sheen: 0.5, sheenRoughness: 0.75, opacity: 1, coat: 0 },
  twill: { relief: (u, v, n) => 0.2 + 0.65 * round(4 * (u + v)) + 0.15 * n, repeat: 0.014, bump: 1.8, roughness: 0.95, sheen: 0.3, sheenRoughness: 0.85, opacity: 1, coat: 0 },
  satin: { relief: (u, _v, n) => 0.55 + 0.1 * round(8 * u) + 0.05 * n, repeat: 0.01, bump: 0.15, roughness: 0.34, sheen: 1, sheenRoughness: 0.28, opacity: 1, coat: 0.25 },
  knit: { relief: (u, v, n) => 0.1 + 0.75 * round(4 * u) * (0.55 + 0.45 * round(6 * v + Math.abs(2 * (4 * u - Math.floor(4 * u)) - 1))) + 0.15 * n, repeat: 0.016, bump: 1.6, roughness: 0.97, sheen: 0.7, sheenRoughness: 0.8, opacity: 1, coat: 0 },
  nap: { relief: (_u, _v, n) => 0.4 + 0.6 * n, repeat: 0.02, bump: 1.1, roughness: 1, sheen: 0.4, sheenRoughness: 0.9, opacity: 1, coat: 0 },
  leather: { relief: (u, v, n) => 0.5 + 0.22 * Math.sin(6.28 * (3 * u + Math.sin(6.28 * 2 * v))) * Math.sin(6.28 * (3 * v + Math.sin(6.28 * 2 * u))) + 0.2 * n, repeat: 0.035, bump: 0.35, roughness: 0.5, sheen: 0, sheenRoughness: 1, opacity: 1, coat: 0.45 },
  net: { relief: (u, v) => Math.max(1 - 5 * Math.abs(((6 * (u + v)) % 1) - 0.5), 1 - 5 * Math.abs(((6 * (u - v + 2)) % 1) - 0.5), 0), repeat: 0.018, bump: 1, roughness: 0.8, sheen: 0.4, sheenRoughness: 0.5, opacity: 0.34, coat: 0 },
  sheer: { relief: (u, v, n) => 0.45 + 0.35 * plainWeave(u, v) + 0.1 * n, repeat: 0.008, bump: 0.25, roughness: 0.6, sheen: 0.8, sheenRoughness: 0.4, opacity: 0.62, coat: 0 },
};

const SIZE = 128;
const reliefs = new Map<Look, HTMLCanvasElement>();

/** Relief of a look as a grey picture; drawn once. */
function reliefOf(look: Look): HTMLCanvasElement {
  let drawn = reliefs.get(look);
  if (!drawn) {
    const { relief } = SURFACES[look];
    drawn = canvas(SIZE, (g) => {
      const image = g.createImageData(SIZE, SIZE);
      for (let y = 0; y < SIZE; y++) {
        for (let x = 0; x < SIZE; x++) {
          const grey = 255 * Math.min(1, Math.max(0, relief(x / SIZE, y / SIZE, hash(x + SIZE * y))));
          image.data.set([grey, grey, grey, 255], 4 * (y * SIZE + x));
        }
      }
      g.putImageData(image, 0, 0);
    });
    reliefs.set(look, drawn);
  }
  return drawn;
}

/** Lines along the warp every 5 cm, drawn by the material while they are wanted. */
export const grainLines = { value: 0 };

/** A cloth as it looks, with its weave and print lying along the grain (degrees) of a piece; the back is a little darker. `ready` is
 * told when the print is there. */
export function clothMaterial(fabric: Fabric, look: Look, grain: number, place: PrintPlace | undefined, ready: () => void): THREE.MeshPhysicalMaterial {
  const surface = SURFACES[look];
  const turn = ((grain - 90) * Math.PI) / 180;
  const map = printTexture(fabric, grain, place, () => {
    printReady(material);
    ready();
  });
  const bumpMap = repeating(reliefOf(look), surface.repeat);
  bumpMap.rotation = turn;
  const clear = surface.opacity < 1;
  const material = new THREE.MeshPhysicalMaterial({
    color: map ? token("white") : fabric.colour,
    map,
    bumpMap,
    bumpScale: surface.bump,
    roughness: surface.roughness,
    sheen: surface.sheen,
    sheenRoughness: surface.sheenRoughness,
    sheenColor: new THREE.Color(fabric.colour).lerp(new THREE.Color(token("white")), 0.45),
    clearcoat: surface.coat,
    clearcoatRoughness: 0.4,
    transparent: clear,
    opacity: surface.opacity,
    depthWrite: !clear,
    side: THREE.DoubleSide,
    shadowSide: THREE.DoubleSide,
  });
  const across = new THREE.Vector2(Math.cos(turn), Math.sin(turn));
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, { grainLines, across: { value: across } });
    shader.vertexShader = `varying vec2 flatAt;\n${shader.vertexShader.replace("#include <uv_vertex>", "#include <uv_vertex>\n  flatAt = uv;")}`;
    shader.fragmentShader = `uniform float grainLines;\nuniform vec2 across;\nvarying vec2 flatAt;\n${shader.fragmentShader.replace("#include <map_fragment>", GRAIN)}`;
  };
  return material;
}

const GRAIN = `#include <map_fragment>
  if (!gl_FrontFacing) diffuseColor.rgb *= 0.68;
  if (grainLines > 0.5) {
    float strip = dot(flatAt, across) / 0.05;
    float off = abs(fract(strip + 0.5) - 0.5) / max(fwidth(strip), 1e-5);
    diffuseColor = mix(vec4(0.66, 0.2, 0.2, 1.0), diffuseColor, clamp(off - 0.4, 0.0, 1.0));
  }`;
