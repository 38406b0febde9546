import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { type BodyLook, BodyStand } from "../body/BodyStand";
import type { BodyView } from "../body/view";
import type { CheckMap, Costume, CrossingPlace, Note, NoteId, PieceId, PieceSpan, Prop, StationShown, Swatch } from "../api/types";
import type { ClothFrame, LayoutFrame } from "./frames";
import { frugalMaterial, lightStudio } from "./light";
import { boxAround, Faults } from "./faults";
import { NotePins } from "./notePins";
import { PieceOutline } from "./outlines";
import { type StitchRow, Stitches } from "./stitches";
import { Strokes } from "./strokes";
import { type ShownThreads, Threads } from "./threads";
import { Pointing } from "./pointing";
import { clothMaterial, grainLines } from "./looks";
import { flagSprite, headTexture } from "./marks";
import { middleOf, Props } from "./moving";
import type { ReelFrame, ReelLayout } from "../rehearse/reel";
import { type Overlay, Overlays } from "./overlays";
import { drawsInSoftware, plainWanted, quality } from "./quality";
import { type Rim, Rims } from "./rims";
import { colourOn, SCALES } from "./ramp";
import { Spots } from "./spots";
import { token } from "../ui/token";

export type ViewName = "front" | "side" | "back" | "three-quarter";
const DIRECTIONS: Record<ViewName, [number, number, number]> = { front: [0, 0.04, 1], side: [1, 0.04, 0], back: [0, 0.04, -1], "three-quarter": [0.55, 0.12, 0.85] };

/** Time without motion after which pictures are drawn in full, ms. */
const SETTLED = 300;

/** The 3D side: a body in soft studio light with the cloth around it. Draws only when something changed. */
export class StandScene {
  private renderer: THREE.WebGLRenderer;
  private scene = new THREE.Scene();
  private camera = new THREE.PerspectiveCamera(26, 1, 0.05, 20);
  private controls: OrbitControls;
  private body: THREE.Mesh<THREE.BufferGeometry, THREE.Material> | null = null;
  private cloth = new THREE.Mesh<THREE.BufferGeometry, THREE.Material[]>(new THREE.BufferGeometry(), []);
  private faults = new Faults();
  private notePins = new NotePins();
  /** What pieces wear while a map is shown, each its own, since each may be hidden. */
  private mapped: THREE.MeshStandardMaterial[] = [];
  private software = drawsInSoftware();
  private plain = plainWanted();
  private linen = new THREE.MeshStandardMaterial({ color: token("linen"), roughness: 0.9, vertexColors: true });
  private dirty = true;
  /** The next frame is asked for. */
  private asked = false;
  /** The timer after which what moved is drawn in full. */
  private settling = 0;
  /** When cloth or camera last moved and when the last picture was drawn, ms. */
  private movedAt = 0;
  private drawnAt = 0;
  private full = false;
  private stopped = false;
  private flight: { from: THREE.Vector3; to: THREE.Vector3; fromTarget: THREE.Vector3; toTarget: THREE.Vector3; start: number } | null = null;
  /** Of the body, m. */
  private height = 1.68;
  private fabrics: THREE.MeshPhysicalMaterial[] = [];
  private showsMap = false;
  private groups: { start: number; count: number; material: number }[] = [];
  private spans: PieceSpan[] = [];
  private heldAt: number[] = [];
  private marks = { selected: new PieceOutline(token("thread")), hovered: new PieceOutline(token("ink")) };
  private marked: { selected: PieceId | null; hovered: PieceId | null } = { selected: null, hovered: null };
  private pins = new THREE.Points(new THREE.BufferGeometry(), new THREE.PointsMaterial({ color: token("thread"), size: 9, sizeAttenuation: false, depthTest: false, map: headTexture(), transparent: true }));
  private pinned: number[] = [];
  private hands = new THREE.Points(new THREE.BufferGeometry(), new THREE.PointsMaterial({ color: token("hand"), size: 11, sizeAttenuation: false, depthTest: false, map: headTexture(), transparent: true }));
  private trouble = flagSprite("!", token("alarm"));
  private overlays = new Overlays();
  private rims = new Rims();
  private threads = new Threads();
  private stitches = new Stitches();
  private strokes = new Strokes();
  /** The map on the cloth has strokes. */
  private stroked = false;
  private stitched: StitchRow[] = [];
  private rimLooks: Rim[] = [];
  readonly pointing: Pointing;
  readonly bodyStand: BodyStand;
  /** Lights and shade on the floor, which go along with a body that walks. */
  private readonly studio: THREE.Group;
  private readonly spots = new Spots();
  private readonly props = new Props();
  /** Where the body of the rehearsal on the stand is over the floor, m; none while none is shown. */
  private walked: [number, number] | null = null;
  private shownBody: BodyView | null = null;

  constructor(canvas: HTMLCanvasElement) {
    // an opaque canvas is cheaper to put on the page
    const context = canvas.getContext("webgl2", { alpha: false, antialias: !this.software, powerPreference: "high-performance" });
    this.renderer = new THREE.WebGLRenderer({ canvas, ...(context ? { context } : {}) });
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.renderer.toneMapping = THREE.ACESFilmicToneMapping;
    this.renderer.toneMappingExposure = 1.12;
    this.studio = lightStudio(this.scene);
    this.cloth.castShadow = true;
    this.cloth.receiveShadow = true;
    this.cloth.frustumCulled = false;
    for (const points of [this.pins, this.hands]) {
      points.renderOrder = 15;
      points.frustumCulled = false;
    }
    this.trouble.visible = false;
    this.scene.add(this.cloth, this.rims.mesh, this.faults.group, this.notePins.group, this.pins, this.hands, this.trouble, this.overlays.group, this.threads.group, this.stitches.lines, this.strokes.lines, this.marks.hovered.lines, this.marks.selected.lines);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.target.set(0, 0.8, 0);
    this.controls.minDistance = 0.3;
    this.controls.maxDistance = 9;
    this.controls.addEventListener("change", () => this.stir());
    this.view("three-quarter", false);
    this.pointing = new Pointing(canvas, this.camera, this.controls, this.cloth, () => this.body);
    this.bodyStand = new BodyStand(canvas, this.camera, this.controls, () => this.body, () => this.stir());
    this.scene.add(this.bodyStand.group, this.spots.group, this.props.group);
    this.loop();
  }

  private loop = () => {
    this.asked = false;
    if (this.stopped) return;
    this.fly();
    const now = performance.now();
    // plain pictures have no box around a place
    const whole = this.alone === null;
    const wanted = quality(this.software, whole && now - this.movedAt < SETTLED, whole && this.plain);
    if (wanted.full && !this.full) this.dirty = true;
    if (!this.dirty) return;
    if (now - this.drawnAt < wanted.interval) return this.ask();
    this.dirty = false;
    this.drawnAt = now;
    if (this.full !== wanted.full) this.dressFor(wanted.full, wanted.ratio);
    this.renderer.render(this.scene, this.camera);
    // once it stands still it is drawn in full
    window.clearTimeout(this.settling);
    if (!wanted.full && !this.plain) this.settling = window.setTimeout(() => this.ask(), SETTLED + 20);
  };

  /** Has the next picture drawn, when something changed; nothing runs while all stands still. */
  private ask() {
    if (this.asked || this.stopped) return;
    this.asked = true;
    requestAnimationFrame(this.loop);
  }

  /** Changes between full and frugal pictures. */
  private dressFor(full: boolean, ratio: number) {
    this.full = full;
    this.renderer.setPixelRatio(ratio);
    this.renderer.shadowMap.autoUpdate = full;
    this.renderer.shadowMap.needsUpdate = full;
    this.cloth.castShadow = full;
    this.cloth.receiveShadow = full;
    this.wear();
  }

  /** Pictures stay frugal from now on, or not. */
  setPlain(plain: boolean) {
    this.plain = plain;
    this.touch();
  }

  private touch() {
    this.dirty = true;
    this.ask();
  }

  /** Something moves: pictures may be frugal until it is still again. */
  private stir() {
    this.movedAt = performance.now();
    this.touch();
  }

  resize(width: number, height: number) {
    this.renderer.setPixelRatio(quality(this.software, !this.full, this.plain).ratio);
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / Math.max(height, 1);
    this.camera.updateProjectionMatrix();
    this.touch();
  }

  /** The body with what is shown around it. */
  setBody(view: BodyView, look: BodyLook) {
    if (view !== this.shownBody) {
      this.wearSkin(view);
      this.frame(view);
      this.shownBody = view;
    }
    if (this.body) this.bodyStand.tint(this.body.geometry, view, look);
    this.bodyStand.show(view, look);
    this.stir();
  }

  /** The skin on the stand at other places; that of another figure is left as it is. */
  private moveSkin({ positions, normals }: Pick<BodyView, "positions" | "normals">) {
    const skin = this.body?.geometry;
    if (!skin || skin.getAttribute("position").array.length !== positions.length) return;
    for (const [name, array] of [["position", positions], ["normal", normals]] as const) {
      skin.getAttribute(name).array.set(array);
      skin.getAttribute(name).needsUpdate = true;
    }
    skin.boundingSphere = null;
  }

  private wearSkin(view: BodyView) {
    const same = this.body && this.body.geometry.getAttribute("position").count === view.head.vertices && this.shownBody?.head.triangles === view.head.triangles;
    if (this.body && same) {
      this.moveSkin(view);
      return;
    }
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(view.positions.slice(), 3));
    geometry.setAttribute("normal", new THREE.BufferAttribute(view.normals.slice(), 3));
    geometry.setAttribute("color", new THREE.BufferAttribute(new Float32Array(view.head.vertices * 3), 3));
    geometry.setIndex(new THREE.BufferAttribute(view.triangles, 1));
    if (this.body) {
      this.body.geometry.dispose();
      this.scene.remove(this.body);
    }
    this.body = new THREE.Mesh(geometry, this.full ? this.linen : frugalMaterial(this.linen));
    this.body.castShadow = true;
    this.body.receiveShadow = true;
    this.body.frustumCulled = false;
    this.scene.add(this.body);
  }

  /** A rehearsal takes the stand: its cloth and props, until [`endReel`]. */
  beginReel(layout: ReelLayout) {
    this.walked = [0, 0];
    this.setLayout(layout.cloth);
    this.props.show(layout.head.props);
    this.touch();
  }

  /** Things that stand beside the body, where they begin; a rehearsal brings its own. */
  showThings(things: Prop[]) {
    if (this.walked) return;
    this.props.stand(things);
    this.touch();
  }

  /** One of its frames; the view goes along with the body. */
  showReel(frame: ReelFrame) {
    if (!this.walked) return;
    this.setCloth(frame.cloth);
    this.props.place(frame.props);
    this.moveSkin(frame.body);
    this.follow(middleOf(frame.body));
    this.stir();
  }

  /** The body and the view go back to the stand; the cloth comes with the next frame of the drape. */
  endReel() {
    if (!this.walked) return;
    this.follow([0, 0]);
    this.walked = null;
    this.props.clear();
    const view = this.shownBody;
    if (view) this.wearSkin(view);
    this.touch();
  }

  private follow(at: [number, number]) {
    const [x, z] = this.walked ?? [0, 0];
    const by = new THREE.Vector3(at[0] - x, 0, at[1] - z);
    this.camera.position.add(by);
    this.controls.target.add(by);
    this.studio.position.add(by);
    this.controls.update();
    this.walked = at;
  }

  /** Spots where pieces can hang, while they are wanted; finds the nearest to a place of the window. */
  showSpots(stations: StationShown[] | null) {
    this.spots.group.visible = stations !== null;
    if (stations) this.spots.show(stations);
    this.touch();
  }

  spotAt(x: number, y: number): StationShown | null {
    const box = this.renderer.domElement.getBoundingClientRect();
    if (x < box.left || x > box.right || y < box.top || y > box.bottom) return null;
    const project = (p: THREE.Vector3) => {
      const q = p.clone().project(this.camera);
      return new THREE.Vector2(box.left + ((q.x + 1) / 2) * box.width, box.top + ((1 - q.y) / 2) * box.height);
    };
    return this.spots.nearest(x, y, this.camera, project);
  }

  markSpot(station: StationShown | null) {
    this.spots.mark(station);
    this.touch();
  }

  /** Shows a piece moved by so much, m, until the next cloth comes. */
  shiftPiece(piece: PieceId, by: THREE.Vector3) {
    const position = this.cloth.geometry.getAttribute("position");
    const k = this.spans.findIndex((s) => s.piece === piece);
    const span = this.spans[k];
    if (!position || !span) return;
    const end = this.spans[k + 1]?.first_vertex ?? position.count;
    this.shifted ??= { piece, start: position.array.slice(3 * span.first_vertex, 3 * end) as Float32Array };
    for (let v = 0; v < end - span.first_vertex; v++) {
      const at = (c: number) => (this.shifted?.start[3 * v + c] ?? 0) + by.getComponent(c);
      position.setXYZ(span.first_vertex + v, at(0), at(1), at(2));
    }
    position.needsUpdate = true;
    this.stir();
  }

  private shifted: { piece: PieceId; start: Float32Array } | null = null;

  /** Pieces that are not shown, and those that one can see through. */
  setVeil(hidden: PieceId[], ghosts: PieceId[]) {
    this.hidden = hidden;
    this.ghosts = ghosts;
    this.veil();
    this.touch();
  }

  private veil() {
    this.spans.forEach((span, k) => {
      for (const material of [this.fabrics[k], [this.cloth.material].flat()[k]]) {
        if (!material) continue;
        material.visible = !this.hidden.includes(span.piece) && (this.alone?.includes(span.piece) ?? true);
        const ghost = this.ghosts.includes(span.piece);
        material.transparent = ghost;
        material.opacity = ghost ? 0.3 : 1;
        material.depthWrite = !ghost;
      }
    });
  }

  /** Where a point of the cloth lies flat in its piece, m. */
  flatOf(triangle: number, point: THREE.Vector3): [number, number] | null {
    const { geometry } = this.cloth;
    const [index, position, uv] = [geometry.getIndex(), geometry.getAttribute("position"), geometry.getAttribute("uv")];
    if (!index || !position || !uv) return null;
    const corners = [0, 1, 2].map((k) => index.getX(3 * triangle + k));
    const [a, b, c] = corners.map((v) => new THREE.Vector3().fromBufferAttribute(position, v)) as [THREE.Vector3, THREE.Vector3, THREE.Vector3];
    const weights = new THREE.Vector3();
    THREE.Triangle.getBarycoord(point, a, b, c, weights);
    const mix = (get: (v: number) => number) => corners.reduce((sum, v, k) => sum + get(v) * weights.getComponent(k), 0);
    return [mix((v) => uv.getX(v)), mix((v) => uv.getY(v))];
  }

  /** Steps back or comes nearer when a body of another height takes the stand. */
  private frame(view: BodyView) {
    let height = 0;
    for (let i = 1; i < view.neutral.length; i += 3) height = Math.max(height, view.neutral[i] ?? 0);
    const ratio = height / this.height;
    if (Math.abs(ratio - 1) < 0.02) return;
    this.height = height;
    const target = this.controls.target.clone().multiplyScalar(ratio);
    const away = this.camera.position.clone().sub(this.controls.target).multiplyScalar(ratio);
    this.travel(target.clone().add(away), target, true);
  }

  setLayout(layout: LayoutFrame) {
    const geometry = new THREE.BufferGeometry();
    geometry.setIndex(new THREE.BufferAttribute(layout.triangles, 1));
    geometry.setAttribute("uv", new THREE.BufferAttribute(layout.flat, 2));
    for (const name of ["position", "normal", "color"]) {
      geometry.setAttribute(name, new THREE.BufferAttribute(new Float32Array(layout.vertices * 3), 3));
    }
    this.cloth.geometry.dispose();
    this.cloth.geometry = geometry;
    this.threads.read(layout.pairs);
    this.stitches.read(layout.flat, layout.triangles);
    this.dress();
  }

  /** Draws the threads of what is to be sewn. */
  showThreads(shown: ShownThreads) {
    this.threads.show(shown, this.cloth.geometry);
    this.touch();
  }

  /** Which triangles are of which piece, and how each piece looks; swatches by key. */
  setPieces(costume: Costume, spans: PieceSpan[], swatches: ReadonlyMap<string, Swatch>) {
    this.spans = spans;
    for (const m of this.fabrics) {
      m.map?.dispose();
      m.bumpMap?.dispose();
      m.dispose();
    }
    const worn = spans.flatMap((span) => {
      const piece = costume.pieces.find((p) => p.id === span.piece);
      const fabric = costume.fabrics.find((f) => f.id === piece?.fabric) ?? costume.fabrics[0];
      return fabric ? [{ fabric, swatch: swatches.get(fabric.swatch), grain: piece?.grain ?? 90, place: piece?.print_at }] : [];
    });
    this.fabrics = worn.map(({ fabric, swatch, grain, place }) => clothMaterial(fabric, swatch?.look ?? "plain", grain, place, () => this.touch()));
    this.rimLooks = worn.map(({ fabric, swatch }) => ({ thickness: (fabric.own?.thickness ?? swatch?.thickness ?? 0) / 1000, colour: fabric.colour }));
    this.groups = spans.map((span, material) => ({ start: span.first_triangle * 3, count: span.triangles * 3, material }));
    this.dress();
  }

  private dress() {
    this.cloth.geometry.clearGroups();
    // a material first drawn without normals would shade every triangle flat from then on
    const drawable = this.cloth.geometry.getAttribute("normal") !== undefined;
    for (const g of drawable ? this.groups : []) this.cloth.geometry.addGroup(g.start, g.count, g.material);
    this.wear();
    this.overlays.follow(this.cloth.geometry, this.spans, this.heldAt);
    this.threads.follow(this.cloth.geometry);
    this.stitches.show(this.stitched, this.spans);
    this.rims.follow(this.cloth.geometry, this.spans, this.rimLooks);
    this.notePins.show(this.notePins.shown, this.cloth.geometry, this.spans);
    this.mark(this.marked.selected, this.marked.hovered);
    this.showCloth(this.cloth.visible);
  }

  /** Rows of top-stitching on the cloth. */
  setStitches(rows: StitchRow[]) {
    this.stitched = rows;
    this.stitches.show(rows, this.spans);
    this.stitches.follow(this.cloth.geometry, this.cloth.visible);
    this.touch();
  }

  /** Vertices that are held to the body. */
  setHeld(held: number[]) {
    this.heldAt = held;
    this.overlays.follow(this.cloth.geometry, this.spans, held);
    this.touch();
  }

  /** Mesh, grain and seams drawn over the cloth. */
  showOverlays(shown: ReadonlySet<Overlay>) {
    this.overlays.show(shown);
    grainLines.value = shown.has("grain") ? 1 : 0;
    this.touch();
  }

  /** Outlines the selected piece and the one under the pointer. */
  mark(selected: PieceId | null, hovered: PieceId | null) {
    this.marked = { selected, hovered };
    const span = (piece: PieceId | null) => this.spans.find((s) => s.piece === piece);
    const seen = () => [this.marks.selected, this.marks.hovered].some((m) => m.lines.geometry.getIndex() !== null);
    const before = seen();
    this.marks.selected.follow(this.cloth.geometry, span(selected));
    this.marks.hovered.follow(this.cloth.geometry, hovered === selected ? undefined : span(hovered));
    // a piece that does not hang has no outline here, and nothing to draw again
    if (before || seen()) this.showCloth(this.cloth.visible);
  }

  /** The piece that a triangle of the cloth belongs to. */
  pieceOf(triangle: number | null): PieceId | null {
    if (triangle === null) return null;
    return this.spans.find((s) => triangle >= s.first_triangle && triangle < s.first_triangle + s.triangles)?.piece ?? null;
  }

  showCloth(on: boolean) {
    this.cloth.visible = on;
    // lines over the cloth would not end at the box around a place
    const lined = on && this.alone === null;
    this.overlays.group.visible = lined;
    this.threads.group.visible = lined;
    this.stitches.follow(this.cloth.geometry, lined);
    this.rims.mesh.visible = on && !this.showsMap;
    this.notePins.group.visible = on;
    for (const { lines } of [this.marks.selected, this.marks.hovered]) lines.visible = lined && lines.geometry.getIndex() !== null;
    this.touch();
  }

  private hidden: PieceId[] = [];
  /** Without the body. */
  private bare = false;
  /** The only pieces that are shown, if not all. */
  private alone: PieceId[] | null = null;
  private ghosts: PieceId[] = [];

  private wear() {
    while (this.mapped.length < this.fabrics.length) this.mapped.push(new THREE.MeshStandardMaterial({ vertexColors: true, roughness: 0.95, side: THREE.DoubleSide }));
    const materials = this.showsMap ? this.fabrics.map((_, k) => this.mapped[k] as THREE.MeshStandardMaterial) : this.fabrics;
    this.cloth.material = this.full ? materials : materials.map(frugalMaterial);
    if (this.body) this.body.material = this.full ? this.linen : frugalMaterial(this.linen);
    if (this.body) this.body.visible = !this.bare;
    this.veil();
  }

  showMap(on: boolean) {
    this.showsMap = on;
    this.dress();
    this.stroke();
  }

  setCloth(frame: ClothFrame) {
    const { geometry } = this.cloth;
    const position = geometry.getAttribute("position");
    const normal = geometry.getAttribute("normal");
    if (!position || position.array.length !== frame.positions.length) return;
    this.shifted = null;
    position.array.set(frame.positions);
    normal.array.set(frame.normals);
    position.needsUpdate = true;
    normal.needsUpdate = true;
    geometry.boundingSphere = null;
    this.rims.move(geometry);
    this.notePins.follow(geometry);
    this.stitches.follow(geometry, this.cloth.visible);
    this.setPins(this.pinned);
    if (this.strokes.lines.visible) this.strokes.show(null);
    this.stir();
  }

  /** Heads of the pins that hold vertices. */
  setPins(vertices: number[]) {
    this.pinned = vertices;
    const position = this.cloth.geometry.getAttribute("position");
    const points = vertices.flatMap((v) => (position && v < position.count ? [position.getX(v), position.getY(v), position.getZ(v)] : []));
    this.pins.geometry.setAttribute("position", new THREE.Float32BufferAttribute(points, 3));
    this.touch();
  }

  /** Where hands hold the cloth, m. */
  setHands(at: [number, number, number][]) {
    this.hands.geometry.setAttribute("position", new THREE.Float32BufferAttribute(at.flat(), 3));
    this.touch();
  }

  /** The flag at the place of trouble. */
  setTrouble(at: [number, number, number] | null) {
    this.trouble.visible = at !== null;
    if (at) this.trouble.position.set(...at);
    this.touch();
  }

  /** Colours the cloth by the values of a map, one to a vertex. */
  setMap(map: CheckMap, values: Float32Array) {
    const colour = this.cloth.geometry.getAttribute("color");
    if (!colour || colour.array.length !== values.length * 3) return;
    const c = new THREE.Color();
    values.forEach((v, i) => {
      c.setRGB(...colourOn(SCALES[map], v), THREE.SRGBColorSpace);
      colour.setXYZ(i, c.r, c.g, c.b);
    });
    colour.needsUpdate = true;
    this.stroked = map === "tension";
    this.stroke();
    this.touch();
  }

  /** Strokes belong to the map of tension, and to cloth that stands still. */
  private stroke() {
    this.strokes.show(this.showsMap && this.stroked && this.cloth.visible && this.alone === null ? this.cloth.geometry : null);
  }

  clearCloth() {
    this.cloth.geometry.dispose();
    this.cloth.geometry = new THREE.BufferGeometry();
    this.rims.follow(this.cloth.geometry, [], []);
    this.overlays.follow(this.cloth.geometry, [], []);
    this.mark(null, null);
  }

  /** Numbered flags at crossings. */
  setFlags(crossings: CrossingPlace[]) {
    this.faults.show(crossings);
    this.touch();
  }

  /** Draws only what is near a place, and of the cloth only the pieces concerned; none draws everything again. */
  isolate(place: Pick<CrossingPlace, "at" | "pieces" | "kind"> | null) {
    if (!place && !this.alone) return;
    this.alone = place?.pieces ?? null;
    // the body would hide what cloth does to cloth
    this.bare = place?.kind === "cloth-cloth";
    this.renderer.clippingPlanes = place ? boxAround(place.at) : [];
    this.faults.lower(place !== null);
    this.wear();
    this.showCloth(this.cloth.visible);
    this.stroke();
  }

  /** Flags of notes on the cloth. */
  setNotes(notes: Note[]) {
    this.notePins.show(notes, this.cloth.geometry, this.spans);
    this.touch();
  }

  flyToNote(note: NoteId) {
    const at = this.notePins.at(note, this.cloth.geometry);
    if (at) this.flyTo(at.toArray());
  }

  view(name: ViewName, smooth = true) {
    const direction = new THREE.Vector3(...DIRECTIONS[name]).normalize();
    const target = new THREE.Vector3(0, 0.476 * this.height, 0);
    this.travel(target.clone().addScaledVector(direction, 2.74 * this.height), target, smooth);
  }

  flyTo(at: [number, number, number]) {
    const target = new THREE.Vector3(...at);
    const away = new THREE.Vector3(target.x, 0, target.z);
    if (away.length() < 0.02) away.set(0, 0, 1);
    this.travel(target.clone().addScaledVector(away.normalize(), 0.75), target, true);
  }

  private travel(to: THREE.Vector3, toTarget: THREE.Vector3, smooth: boolean) {
    if (!smooth || window.matchMedia("(prefers-reduced-motion: reduce)").matches) {
      this.camera.position.copy(to);
      this.controls.target.copy(toTarget);
      this.controls.update();
      this.touch();
      return;
    }
    this.flight = { from: this.camera.position.clone(), to, fromTarget: this.controls.target.clone(), toTarget, start: performance.now() };
    this.ask();
  }

  private fly() {
    if (!this.flight) return;
    const t = Math.min(1, (performance.now() - this.flight.start) / 180);
    const s = t * t * (3 - 2 * t);
    this.camera.position.lerpVectors(this.flight.from, this.flight.to, s);
    this.controls.target.lerpVectors(this.flight.fromTarget, this.flight.toTarget, s);
    this.controls.update();
    this.stir();
    if (t >= 1) this.flight = null;
  }

  dispose() {
    this.stopped = true;
    this.bodyStand.dispose();
    this.spots.dispose();
    this.props.dispose();
    this.controls.dispose();
    this.overlays.dispose();
    this.threads.dispose();
    this.stitches.dispose();
    this.strokes.dispose();
    this.marks.selected.dispose();
    this.marks.hovered.dispose();
    for (const m of [...this.fabrics, ...this.mapped, this.linen]) {
      if ("map" in m) m.map?.dispose();
      if ("bumpMap" in m) m.bumpMap?.dispose();
      m.dispose();
    }
    this.scene.traverse(dispose);
    this.renderer.dispose();
  }
}

/** Frees what one thing of the scene holds on the graphics card. */
function dispose(thing: THREE.Object3D) {
  if (thing instanceof THREE.Light) thing.dispose();
  if (!(thing instanceof THREE.Mesh || thing instanceof THREE.Line || thing instanceof THREE.Points || thing instanceof THREE.Sprite)) return;
  thing.geometry.dispose();
  for (const material of [thing.material].flat()) {
    if ("map" in material && material.map instanceof THREE.Texture) material.map.dispose();
    material.dispose();
  }
}
