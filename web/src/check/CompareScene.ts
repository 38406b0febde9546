import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { Swatch } from "../api/types";
import { lightStudio } from "../stand/light";
import { clothMaterial } from "../stand/looks";
import { colourOn, DIFFERENCE } from "../stand/ramp";
import { token } from "../ui/token";
import type { ShownFitting } from "./fitting";
import { type CompareMode, LENS } from "./store";

/** Cloth of the second and further fittings where they lie over each other. */
const TINTS = [token("linen"), token("thread"), token("moss"), token("hand")] as const;

/** Columns that are less wide than this for their height see more upwards. */
const WIDE = 0.62;

interface Figure {
  group: THREE.Group;
  cloth: THREE.Mesh<THREE.BufferGeometry, THREE.Material | THREE.Material[]>;
  body: THREE.Mesh;
  worn: THREE.Material[];
  mapped: THREE.Material;
  tinted: THREE.Material;
}

/** Fittings side by side under one camera, so that all are seen from the same place. */
export class CompareScene {
  private renderer: THREE.WebGLRenderer;
  private scene = new THREE.Scene();
  private camera = new THREE.PerspectiveCamera(LENS, 1, 0.05, 20);
  private controls: OrbitControls;
  private figures: Figure[] = [];
  private size: [number, number] = [1, 1];
  private mode: CompareMode = "beside";
  /** Upright field of view, degrees, of columns that are wide enough. */
  private lens = LENS;
  private asked = false;
  private stopped = false;

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true });
    this.renderer.toneMapping = THREE.ACESFilmicToneMapping;
    this.renderer.toneMappingExposure = 1.12;
    this.renderer.autoClear = false;
    lightStudio(this.scene);
    this.camera.position.set(1.6, 1.25, 3.9);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.target.set(0, 0.85, 0);
    this.controls.minDistance = 0.3;
    this.controls.maxDistance = 9;
    this.controls.update();
    this.controls.addEventListener("change", () => this.ask());
  }

  /** Takes these fittings in the place of those before. */
  show(fittings: ShownFitting[], swatches: ReadonlyMap<string, Swatch>) {
    this.clear();
    this.figures = fittings.map((fitting, k) => figure(fitting, swatches, k, () => this.ask()));
    for (const f of this.figures) this.scene.add(f.group);
    this.dress();
  }

  /** Values of the difference from the first, by fitting. */
  setDifference(k: number, values: Float32Array) {
    const geometry = this.figures[k]?.cloth.geometry;
    if (!geometry || geometry.getAttribute("position").count !== values.length) return;
    const colours = new Float32Array(3 * values.length);
    const colour = new THREE.Color();
    values.forEach((v, i) => colour.setRGB(...colourOn(DIFFERENCE, v), THREE.SRGBColorSpace).toArray(colours, 3 * i));
    geometry.setAttribute("color", new THREE.BufferAttribute(colours, 3));
    this.dress();
  }

  setMode(mode: CompareMode) {
    this.mode = mode;
    this.dress();
  }

  setLens(lens: number) {
    // what is looked at keeps its size: the camera goes as near as the lens is wide
    const half = (degrees: number) => Math.tan((0.5 * degrees * Math.PI) / 180);
    const away = this.camera.position.clone().sub(this.controls.target).multiplyScalar(half(this.lens) / half(lens));
    this.camera.position.copy(this.controls.target).add(away);
    this.lens = lens;
    this.controls.update();
    this.ask();
  }

  private dress() {
    this.figures.forEach((f, k) => {
      const differs = this.mode === "difference" && k > 0 && f.cloth.geometry.getAttribute("color") !== undefined;
      f.cloth.material = differs ? f.mapped : this.mode === "over" ? f.tinted : f.worn;
      f.body.visible = this.mode !== "over" || k === 0;
    });
    this.ask();
  }

  view([x, y, z]: readonly [number, number, number]) {
    const away = this.camera.position.distanceTo(this.controls.target);
    this.camera.position.copy(this.controls.target).add(new THREE.Vector3(x, y, z).normalize().multiplyScalar(away));
    this.controls.update();
    this.ask();
  }

  resize(width: number, height: number) {
    this.size = [width, height];
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.renderer.setSize(width, height, false);
    this.ask();
  }

  private ask() {
    if (this.asked || this.stopped) return;
    this.asked = true;
    requestAnimationFrame(() => {
      this.asked = false;
      if (!this.stopped) this.draw();
    });
  }

  private draw() {
    const [width, height] = this.size;
    const columns = this.mode === "over" ? 1 : Math.max(1, this.figures.length);
    const each = width / columns;
    this.camera.aspect = each / Math.max(1, height);
    // a body with its arms out is as wide as this share of what is seen upwards: narrow columns see more
    const upright = Math.tan((0.5 * this.lens * Math.PI) / 180) * Math.max(1, WIDE / this.camera.aspect);
    this.camera.fov = (2 * Math.atan(upright) * 180) / Math.PI;
    this.camera.updateProjectionMatrix();
    this.renderer.setScissorTest(true);
    for (let k = 0; k < columns; k++) {
      this.figures.forEach((f, i) => {
        f.group.visible = this.mode === "over" || i === k;
      });
      this.renderer.setViewport(k * each, 0, each, height);
      this.renderer.setScissor(k * each, 0, each, height);
      this.renderer.clear();
      this.renderer.render(this.scene, this.camera);
    }
    this.canvas.dataset.drawn = String(this.figures.length);
  }

  private clear() {
    for (const f of this.figures) {
      this.scene.remove(f.group);
      f.cloth.geometry.dispose();
      f.body.geometry.dispose();
      for (const m of [...f.worn, f.mapped, f.tinted, f.body.material].flat()) {
        if ("map" in m) (m.map as THREE.Texture | null)?.dispose();
        if ("bumpMap" in m) (m.bumpMap as THREE.Texture | null)?.dispose();
        m.dispose();
      }
    }
    this.figures = [];
  }

  dispose() {
    this.stopped = true;
    this.clear();
    this.controls.dispose();
    this.renderer.dispose();
  }
}

function figure({ head, layout, cloth, body, triangles }: ShownFitting, swatches: ReadonlyMap<string, Swatch>, k: number, ready: () => void): Figure {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute("position", new THREE.BufferAttribute(cloth.positions, 3));
  geometry.setAttribute("normal", new THREE.BufferAttribute(cloth.normals, 3));
  geometry.setAttribute("uv", new THREE.BufferAttribute(layout.flat, 2));
  geometry.setIndex(new THREE.BufferAttribute(layout.triangles, 1));
  head.pieces.forEach((span, material) => geometry.addGroup(span.first_triangle * 3, span.triangles * 3, material));
  const worn = head.worn.map(([fabric, grain, place]) => clothMaterial(fabric, swatches.get(fabric.swatch)?.look ?? "plain", grain, place ?? undefined, ready));
  const plain = { roughness: 0.95, side: THREE.DoubleSide };
  const skin = new THREE.BufferGeometry();
  skin.setAttribute("position", new THREE.BufferAttribute(body.positions, 3));
  skin.setAttribute("normal", new THREE.BufferAttribute(body.normals, 3));
  skin.setIndex(new THREE.BufferAttribute(triangles, 1));
  const made = {
    group: new THREE.Group(),
    cloth: new THREE.Mesh<THREE.BufferGeometry, THREE.Material | THREE.Material[]>(geometry, worn),
    body: new THREE.Mesh(skin, new THREE.MeshStandardMaterial({ color: token("linen"), roughness: 0.9 })),
    worn,
    mapped: new THREE.MeshStandardMaterial({ ...plain, vertexColors: true }),
    tinted: new THREE.MeshStandardMaterial({ ...plain, color: TINTS[k % TINTS.length] ?? token("linen"), transparent: k > 0, opacity: k > 0 ? 0.55 : 1 }),
  };
  made.cloth.frustumCulled = false;
  made.group.add(made.body, made.cloth);
  return made;
}
