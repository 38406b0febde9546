import * as THREE from "three";
import { token } from "../ui/token";

/** Soft studio light: a warm key from the upper left, a cool rim from behind, sky and floor. Colours and strengths. */
export const KEY = { colour: token("daylight"), strength: 2.0, from: [-1.3, 4.2, 2.4], at: [0, 0.9, 0] } as const;
export const RIM = { colour: token("skylight"), strength: 0.8, from: [2.2, 2.2, -2.4], at: [0, 0, 0] } as const;
export const ROOM = { sky: token("room-sky"), floor: token("room-floor"), strength: 1.5 } as const;

/** Adds the lights, the backdrop and a soft shade on the floor; lights and shade as a group, to go along with a body. */
export function lightStudio(scene: THREE.Scene): THREE.Group {
  const key = new THREE.DirectionalLight(KEY.colour, KEY.strength);
  key.position.set(...KEY.from);
  key.target.position.set(...KEY.at);
  key.castShadow = true;
  key.shadow.mapSize.set(1024, 1024);
  Object.assign(key.shadow.camera, { left: -1.5, right: 1.5, top: 1.7, bottom: -1.5, near: 0.5, far: 8 });
  key.shadow.bias = -0.0006;
  key.shadow.normalBias = 0.012;
  key.shadow.radius = 7;
  const rim = new THREE.DirectionalLight(RIM.colour, RIM.strength);
  rim.position.set(...RIM.from);
  const studio = new THREE.Group();
  studio.add(key, key.target, rim, rim.target, new THREE.HemisphereLight(ROOM.sky, ROOM.floor, ROOM.strength), floorShade());
  scene.add(studio, backdrop());
  return studio;
}

/** A soft round shade under the feet. */
function floorShade(): THREE.Mesh {
  const size = 128;
  const alpha = new Uint8Array(size * size * 4);
  for (let i = 0; i < size * size; i++) {
    const [x, y] = [((i % size) + 0.5) / size - 0.5, (Math.floor(i / size) + 0.5) / size - 0.5];
    const out = Math.min(1, 2 * Math.hypot(x, y));
    alpha[4 * i + 3] = 72 * (1 - out) ** 2;
  }
  const map = new THREE.DataTexture(alpha, size, size);
  map.magFilter = THREE.LinearFilter;
  map.needsUpdate = true;
  const shade = new THREE.Mesh(new THREE.PlaneGeometry(1.5, 1.1), new THREE.MeshBasicMaterial({ map, transparent: true, depthWrite: false, toneMapped: false }));
  shade.rotation.x = -Math.PI / 2;
  shade.position.y = -0.001;
  return shade;
}

const WALL = [token("wall-high"), token("wall-low")] as const;

/** The wall behind the stand, lighter above, drawn behind everything. */
function backdrop(): THREE.Mesh {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.BufferAttribute(new Float32Array([-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0]), 3));
  geometry.setIndex([0, 1, 2, 0, 2, 3]);
  const material = new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
    uniforms: { top: { value: srgb(WALL[0]) }, bottom: { value: srgb(WALL[1]) } },
    vertexShader: "uniform vec3 top, bottom; varying vec3 shade; void main() { shade = mix(bottom, top, 0.5 + 0.5 * position.y); gl_Position = vec4(position.xy, 1.0, 1.0); }",
    fragmentShader: "varying vec3 shade; void main() { gl_FragColor = vec4(shade, 1.0); }",
  });
  const wall = new THREE.Mesh(geometry, material);
  wall.frustumCulled = false;
  wall.renderOrder = -10;
  return wall;
}

function srgb(colour: string): THREE.Color {
  return new THREE.Color().setStyle(colour, THREE.LinearSRGBColorSpace);
}

function towards(light: typeof KEY | typeof RIM): THREE.Vector3 {
  return new THREE.Vector3(...light.from).sub(new THREE.Vector3(...light.at)).normalize();
}

function radiance(colour: string, strength: number): THREE.Color {
  return new THREE.Color(colour).multiplyScalar(strength / Math.PI);
}

const VERTEX = `
uniform vec3 key, rim, keyLight, rimLight, sky, ground;
uniform mat3 repeat;
varying vec3 front, back;
varying vec2 at;
vec3 lit(vec3 n) {
  return max(dot(n, key), 0.0) * keyLight + max(dot(n, rim), 0.0) * rimLight + mix(ground, sky, 0.5 * n.y + 0.5);
}
void main() {
  vec3 tint = vec3(1.0);
#ifdef USE_COLOR
  tint = color;
#endif
  front = lit(normal) * tint;
  back = lit(-normal) * tint * 0.68;
  at = (repeat * vec3(uv, 1.0)).xy;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

const FRAGMENT = `
uniform vec3 tint;
uniform float strength;
#ifdef PRINTED
uniform sampler2D print;
#endif
varying vec3 front, back;
varying vec2 at;
void main() {
  vec3 c = tint * (gl_FrontFacing ? front : back);
#ifdef PRINTED
  c *= texture2D(print, at).rgb;
#endif
  gl_FragColor = vec4(c, strength);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

const frugal = new WeakMap<THREE.Material, THREE.ShaderMaterial>();

/** The picture printed on a material has come: its stand-in takes it too. */
export function printReady(of: THREE.Material) {
  const print: unknown = frugal.get(of)?.uniforms.print?.value;
  if (print instanceof THREE.Texture) print.needsUpdate = true;
}

/** A cheap stand-in for a material under the same light, lit per vertex: colour, print and back, no weave, sheen or shadow. */
export function frugalMaterial(of: THREE.MeshStandardMaterial): THREE.ShaderMaterial {
  let material = frugal.get(of);
  if (!material) {
    const print = of.map?.clone() ?? null;
    if (print) print.anisotropy = 1;
    print?.updateMatrix();
    material = new THREE.ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      side: of.side,
      transparent: of.transparent,
      depthWrite: of.depthWrite,
      vertexColors: of.vertexColors,
      defines: print ? { PRINTED: "" } : {},
      uniforms: {
        tint: { value: of.color },
        strength: { value: of.opacity },
        print: { value: print },
        repeat: { value: print?.matrix ?? new THREE.Matrix3() },
        key: { value: towards(KEY) },
        rim: { value: towards(RIM) },
        keyLight: { value: radiance(KEY.colour, KEY.strength) },
        rimLight: { value: radiance(RIM.colour, RIM.strength) },
        sky: { value: radiance(ROOM.sky, ROOM.strength) },
        ground: { value: radiance(ROOM.floor, ROOM.strength) },
      },
    });
    const made = material;
    // it goes with the material that it stands in for
    of.addEventListener("dispose", () => {
      print?.dispose();
      made.dispose();
      frugal.delete(of);
    });
    frugal.set(of, material);
  }
  return material;
}
