// Generated from the Rust types; `cargo test -p server` says when it is stale and UPDATE_TYPES=1 renews it.

export type Point = { x: number, y: number, };
export type PieceId = number;
export type CornerId = number;
export type SeamId = number;
export type FabricId = number;
export type TapeId = number;
export type BodyChoice = { preset: string, 
/**
 * mm by the key of a measure, such as `waist`.
 */
set?: { [key in string]?: number }, 
/**
 * Content hash of an imported figure, which then stands in place of the size.
 */
figure?: string, 
/**
 * Bend, side and turn of the joints that leave the neutral pose, degrees by bone.
 */
pose?: { [key in string]?: [number, number, number] }, contact?: Contact, };
export type KeptPose = { name: string, bones: { [key in string]?: [number, number, number] }, };
export type FreeTape = { id: TapeId, name: string, points: Array<[number, number, number]>, 
/**
 * Lies on the surface; otherwise it runs straight from point to point.
 */
follows: boolean, 
/**
 * Returns to its first point.
 */
closed: boolean, };
export type Contact = { 
/**
 * By part, such as `hand-left`; parts that are not named meet the cloth as usual.
 */
parts?: { [key in string]?: PartContact }, shapes?: Array<StandIn>, };
export type PartContact = { 
/**
 * Left out: the cloth passes through.
 */
left_out: boolean, 
/**
 * Added distance between skin and cloth, mm.
 */
offset: number, 
/**
 * Scales the fabric's friction.
 */
friction: number, };
export type StandIn = { shape: StandInShape, 
/**
 * Empty: it stands still.
 */
bone: string, 
/**
 * Middle in the neutral pose, mm.
 */
at: [number, number, number], 
/**
 * Degrees about x, y and z, in this order.
 */
turn: [number, number, number], 
/**
 * Half sizes along its own x, y and z, mm; a capsule lies along y and its ends are round.
 */
size: [number, number, number], };
export type StandInShape = "capsule" | "ellipsoid" | "box";
export type Fineness = "toile" | "sample" | "final" | { "custom": number };
export type Fabric = { id: FabricId, name: string, 
/**
 * Key in the swatch book, see [`crate::swatch`].
 */
swatch: string, 
/**
 * `#rrggbb`.
 */
colour: string, print: Print | null, 
/**
 * Values that differ from the swatch, by key such as `bend-warp`, in the swatch book's units.
 */
own?: { [key in string]?: number }, };
export type Print = { 
/**
 * Key of the motif, such as `salt-crystals`.
 */
motif: string, 
/**
 * Side of the square repeat in mm.
 */
repeat: number, 
/**
 * `#rrggbb` of the motif.
 */
colour: string, };
export type Bow = { leave: Point, arrive: Point, };
export type Corner = { id: CornerId, at: Point, 
/**
 * `None` is a straight edge.
 */
bow: Bow | null, 
/**
 * What is sewn to the edge, if anything.
 */
finish?: EdgeFinish, };
export type Placement = { 
/**
 * Key of the station, such as `chest-front`.
 */
station: string, 
/**
 * Shift of the piece's middle along the wrap (x) and up (y), mm.
 */
shift: Point, 
/**
 * Turn within the surface, degrees counter-clockwise.
 */
turn: number, };
export type Piece = { id: PieceId, name: string, at: Point, 
/**
 * Counter-clockwise, closed; each corner carries the edge to the next one.
 */
corners: Array<Corner>, fabric: FabricId, 
/**
 * Direction of the warp, degrees counter-clockwise from the table's x axis (90 = upwards).
 */
grain: number, placement: Placement | null, 
/**
 * Left out of the drape for now.
 */
parked: boolean, 
/**
 * Wear order: 1 lies next to the skin, higher ones over it.
 */
wear?: number, 
/**
 * Lines along which it is pressed.
 */
folds?: Array<FoldLine>, };
export type FoldLine = { from: CornerId, to: CornerId, 
/**
 * Degrees from flat; positive brings the right sides together.
 */
angle: number, };
export type Run = { piece: PieceId, edge: CornerId, backwards: boolean, };
export type Seam = { id: SeamId, 
/**
 * Letter tag, the same on both sides.
 */
tag: string, a: Array<Run>, b: Array<Run>, 
/**
 * Pressed to this angle from flat, degrees; positive brings the right sides together. `None` is left soft.
 */
fold?: number, };
export type Costume = { format: number, name: string, body: BodyChoice, fineness: Fineness, fabrics: Array<Fabric>, pieces: Array<Piece>, seams: Array<Seam>, 
/**
 * Poses kept by name.
 */
poses?: Array<KeptPose>, 
/**
 * Tapes laid over the body by hand.
 */
tapes?: Array<FreeTape>, 
/**
 * The next unused id; ids are never used twice.
 */
next_id: number, };
export type EdgeRef = { piece: PieceId, edge: CornerId, };
export type Handle = "leave" | "arrive";
export type Edit = { "do": "rename-costume", name: string, } | { "do": "choose-body", body: BodyChoice, } | { "do": "keep-pose", pose: KeptPose, } | { "do": "forget-pose", name: string, } | { "do": "lay-tape", tape: FreeTape, } | { "do": "change-tape", tape: FreeTape, } | { "do": "take-tape-off", tape: TapeId, } | { "do": "choose-fineness", fineness: Fineness, } | { "do": "add-piece", name: string, at: Point, points: Array<Point>, } | { "do": "remove-piece", piece: PieceId, } | { "do": "copy-piece", piece: PieceId, at: Point, } | { "do": "rename-piece", piece: PieceId, name: string, } | { "do": "move-piece", piece: PieceId, at: Point, } | { "do": "move-corner", piece: PieceId, corner: CornerId, to: Point, } | { "do": "move-handle", piece: PieceId, edge: CornerId, handle: Handle, to: Point, } | { "do": "add-corner", piece: PieceId, edge: CornerId, fraction: number, by_length?: boolean, } | { "do": "remove-corner", piece: PieceId, corner: CornerId, } | { "do": "curve-edge", piece: PieceId, edge: CornerId, } | { "do": "straighten-edge", piece: PieceId, edge: CornerId, } | { "do": "set-grain", piece: PieceId, degrees: number, } | { "do": "set-fabric", piece: PieceId, fabric: FabricId, } | { "do": "add-fabric", name: string, swatch: string, colour: string, } | { "do": "change-fabric", fabric: FabricId, name: string, swatch: string, colour: string, print: Print | null, own?: { [key in string]?: number }, } | { "do": "join", a: EdgeRef, b: EdgeRef, } | { "do": "flip-seam", seam: SeamId, } | { "do": "unpick", seam: SeamId, } | { "do": "fold-seam", seam: SeamId, fold: number | null, } | { "do": "finish-edge", piece: PieceId, edge: CornerId, finish: EdgeFinish | null, } | { "do": "fold-piece", piece: PieceId, from: CornerId, to: CornerId, angle: number | null, } | { "do": "set-wear", piece: PieceId, wear: number, } | { "do": "place", piece: PieceId, placement: Placement | null, } | { "do": "park", piece: PieceId, parked: boolean, };
export type Refusal = { item: string, reason: string, mend: string, };
export type Severity = "stops" | "advice";
export type EdgeFinish = "stay-tape" | { "elastic": { length: number, } } | "stay";
export type Fault = { severity: Severity, item: string, reason: string, mend: string, piece: PieceId | null, seam: SeamId | null, };
export type Look = "plain" | "twill" | "satin" | "knit" | "nap" | "hide" | "net" | "sheer";
export type Swatch = { key: string, name: string, 
/**
 * g/m².
 */
density: number, 
/**
 * N/m, initial slope.
 */
stretch_warp: number, stretch_weft: number, 
/**
 * N/m.
 */
shear: number, 
/**
 * µN·m.
 */
bend_warp: number, bend_weft: number, 
/**
 * mm.
 */
thickness: number, 
/**
 * Coulomb coefficient on skin.
 */
friction: number, 
/**
 * Strain at which the cloth locks, percent; from there on it is ten times as stiff.
 */
locking: number, 
/**
 * Drape coefficient range in percent (30 cm specimen on an 18 cm disc).
 */
drape_low: number, drape_high: number, look: Look, };
export type ClothValue = { key: string, name: string, unit: string, low: number, high: number, 
/**
 * What more of it does.
 */
says: string, };
export type CrossingKind = "cloth-body" | "cloth-cloth" | "cloth-left-out";
export type CrossingPlace = { kind: CrossingKind, 
/**
 * m, on the stand.
 */
at: [number, number, number], pieces: Array<PieceId>, 
/**
 * Crossing triangle pairs.
 */
pairs: number, 
/**
 * Key of the part of the body, if it is left out.
 */
part: string | null, };
export type CheckReport = { crossings: Array<CrossingPlace>, 
/**
 * Largest principal strain per vertex, averaged: 0.02 is 2 %.
 */
tension: Array<number>, strain_mean: number, strain_p99: number, strain_max: number, };
export type FindingKind = "not-at-rest" | "open-seams" | "inside-body" | "crosses-body" | "crosses-cloth" | "overstretched" | "crosses-left-out" | "not-checked";
export type Finding = { kind: FindingKind, 
/**
 * A few words that stand by themselves: \"2 seams open by up to 11.3 cm\".
 */
words: string, 
/**
 * The drape is not good while this holds.
 */
is_fault: boolean, };
export type FileKind = "obj" | "glb";
export type Layout = "metres" | "unit";
export type DeliverOptions = { kind: FileKind, 
/**
 * Seams fused into common vertices, or left as separate edges.
 */
welded: boolean, layout: Layout, with_body: boolean, };
export type PieceMeasure = { piece: PieceId, width: number, height: number, };
export type EdgeMeasure = { piece: PieceId, edge: CornerId, 
/**
 * mm.
 */
length: number, };
export type SeamMeasure = { seam: SeamId, 
/**
 * mm.
 */
a: number, b: number, even: boolean, };
export type CostumeState = { id: number, production: number, costume: Costume, step: number, 
/**
 * Grows with every change, also by undo and redo: an answer with a lower one is older.
 */
version: number, can_undo: boolean, can_redo: boolean, sizes: Array<PieceMeasure>, edges: Array<EdgeMeasure>, seams: Array<SeamMeasure>, faults: Array<Fault>, };
export type EditRequest = { 
/**
 * The step that the edit was made on.
 */
base: number, 
/**
 * Chosen by the browser, so that an edit sent twice counts once.
 */
key: string, edit: Edit, };
export type TravelRequest = { 
/**
 * The step that was seen when it was asked for.
 */
base: number, 
/**
 * Chosen by the browser, so that one sent twice counts once.
 */
key: string, };
export type FlatOutline = { path: string, colour: string, };
export type FlatPicture = { 
/**
 * Left, top, width and height of the drawing.
 */
view: [number, number, number, number], pieces: Array<FlatOutline>, };
export type RailCostume = { id: number, name: string, pieces: number, seams: number, body: string, 
/**
 * The newest fitting, whose picture is shown.
 */
fitting: number | null, 
/**
 * When the drape on the stand was saved, if it is newer than that fitting; milliseconds since 1970.
 */
draped_at: number | null, 
/**
 * Milliseconds since 1970.
 */
changed_at: number, 
/**
 * The flat pieces, while there is no picture of a drape.
 */
flat: FlatPicture | null, 
/**
 * Its document cannot be read by this build; the others are not held up by it.
 */
unreadable: boolean, };
export type RailProduction = { id: number, name: string, costumes: Array<RailCostume>, };
export type NewProduction = { name: string, };
export type NewCostume = { production: number, name: string, };
export type Import = { production: number, text: string, };
export type MeasureOffer = { key: string, name: string, mm: number, low: number, high: number, };
export type BodyOffer = { key: string, name: string, measures: Array<MeasureOffer>, };
export type StationOffer = { key: string, name: string, };
export type PoseOffer = { key: string, name: string, bones: { [key in string]?: [number, number, number] }, };
export type Bodies = { presets: Array<BodyOffer>, stations: Array<StationOffer>, poses: Array<PoseOffer>, 
/**
 * Names of the own bones, in words, by key.
 */
bones: { [key in string]?: string }, };
export type OwnSwatch = { id: number, fabric: Fabric, };
export type SwatchBook = { swatches: Array<Swatch>, values: Array<ClothValue>, own: Array<OwnSwatch>, };
export type Axis = "+x" | "-x" | "+y" | "-y" | "+z" | "-z";
export type Stance = { 
/**
 * Metres of one unit.
 */
unit: number, up: Axis, 
/**
 * Where the face looks.
 */
front: Axis, };
export type FigureSheet = { name: string, stance: Stance, 
/**
 * Duplicates welded, holes closed, faces turned outwards, loose parts removed.
 */
mended: boolean, 
/**
 * Place on the stand by landmark, mm; those that are missing are proposed.
 */
landmarks: { [key in string]?: [number, number, number] }, };
export type Flaws = { 
/**
 * Vertices that lie on another one.
 */
duplicates: number, 
/**
 * Faces without area or given twice.
 */
empty: number, 
/**
 * Faces that look inwards.
 */
flipped: number, holes: number, 
/**
 * Edges with more than two faces.
 */
crowded: number, 
/**
 * Parts that hang together with nothing else and are small.
 */
loose: number, };
export type LandmarkOffer = { key: string, name: string, 
/**
 * mm, on the stand.
 */
at: [number, number, number], };
export type MotionOffer = { name: string, frames: number, };
export type FigureState = { hash: string, 
/**
 * The name of the file it came in.
 */
file: string, sheet: FigureSheet, flaws: Flaws, 
/**
 * What the file also holds and was not taken over, in words.
 */
left_out: Array<string>, 
/**
 * As it stands now, mm.
 */
height: number, vertices: number, triangles: number, 
/**
 * Triangles of the skin that cloth meets.
 */
contact_triangles: number, bones: number, motions: Array<MotionOffer>, landmarks: Array<LandmarkOffer>, };
export type FigureRow = { hash: string, name: string, file: string, };
export type BodyAsked = { body: BodyChoice, 
/**
 * A coarse mannequin, made in a moment, while a measure changes.
 */
quick: boolean, 
/**
 * Another pose, of which `share` (0 to 1) is left: 1 shows it, 0 the pose of the body.
 */
from?: { [key in string]?: [number, number, number] }, share: number, 
/**
 * A tape that is being laid.
 */
trial?: FreeTape, };
export type FreedomShown = { name: string, low: number, high: number, 
/**
 * Axis on the stand about which a growing angle turns (right-hand rule).
 */
axis: [number, number, number], };
export type BoneShown = { key: string, name: string, parent: number | null, 
/**
 * Its joint on the stand, m.
 */
at: [number, number, number], 
/**
 * Bend, side and turn; angles that cannot change have equal limits.
 */
freedoms: [FreedomShown, FreedomShown, FreedomShown], 
/**
 * Motion from the neutral pose: rotation (x y z w) and shift, m.
 */
rotation: [number, number, number, number], shift: [number, number, number], };
export type PartShown = { key: string, name: string, 
/**
 * No cloth meets it, as the costume stands.
 */
out: boolean, };
export type TakenMeasure = { key: string, name: string, asked: number | null, measured: number, 
/**
 * Height of the tape on the neutral pose.
 */
height: number | null, };
export type TapeShown = { id: TapeId, mm: number, 
/**
 * m, on the stand.
 */
path: Array<[number, number, number]>, };
export type BodyShown = { name: string, vertices: number, triangles: number, 
/**
 * Whether the neutral positions follow.
 */
posed: boolean, bones: Array<BoneShown>, parts: Array<PartShown>, taken: Array<TakenMeasure>, tapes: Array<TapeShown>, };
export type FittingRow = { id: number, name: string, body: string, at_rest: boolean, crossings: number, 
/**
 * Milliseconds since 1970.
 */
kept_at: number, };
export type Command = { "do": "drape" } | { "do": "pause" } | { "do": "step" } | { "do": "rehang", piece?: PieceId, } | { "do": "grab", hand: number, vertex: number, } | { "do": "pull-to", hand: number, at: [number, number, number], } | { "do": "let-go", hand?: number, } | { "do": "hold", piece: PieceId, on: boolean, } | { "do": "go-back" } | { "do": "pin", vertex: number, } | { "do": "air", air: Air, } | { "do": "check" } | { "do": "keep", name: string, } | { "do": "open", fitting: number, };
export type Air = { 
/**
 * Times the earth's gravity.
 */
gravity: number, 
/**
 * Added damping, 1/s; below 0 is livelier.
 */
calm: number, 
/**
 * Degrees from the front, counter-clockwise from above, from which the wind comes.
 */
from: number, 
/**
 * m/s.
 */
speed: number, 
/**
 * 0 is steady, 1 swells to twice the speed.
 */
gusts: number, seed: number, };
export type MotionShown = { 
/**
 * The pose it comes from, degrees by bone.
 */
from: { [key in string]?: [number, number, number] }, 
/**
 * What is left of the way, 1 to 0.
 */
left: number, };
export type TroubleShown = { item: string, reason: string, mend: string, 
/**
 * Hanging this piece again may help.
 */
piece: PieceId | null, 
/**
 * m, on the stand.
 */
at: [number, number, number] | null, 
/**
 * Simulated seconds at which it began.
 */
since: number | null, 
/**
 * There is a good state to go back to.
 */
can_go_back: boolean, };
export type Sample = { 
/**
 * Percent.
 */
drape: number, 
/**
 * Outline of the draped specimen from above, mm from the middle of its stand.
 */
outline: Array<[number, number]>, 
/**
 * Elongation of a strip of 1 m under its own weight along warp and weft, mm.
 */
strip: [number, number], 
/**
 * Along the warp, mm.
 */
bending_length: number, };
export type Activity = "empty" | "hung" | "closing" | "falling" | "paused" | "at-rest";
export type Status = { activity: Activity, vertices: number, triangles: number, 
/**
 * Simulated seconds.
 */
time: number, 
/**
 * Simulated over passed seconds.
 */
real_time: number, 
/**
 * mm/s.
 */
fastest: number, 
/**
 * Seam pairs still open.
 */
open_pairs: number, 
/**
 * All that is the matter with the drape, in the words of every place that tells it.
 */
findings: Array<Finding>, 
/**
 * Keys of the parts of the body that cloth passes through.
 */
left_out: Array<string>, trouble: TroubleShown | null, 
/**
 * Largest stretch, 0.02 is 2 %.
 */
stretch: number, 
/**
 * Places where cloth crosses cloth, when last looked at.
 */
crossings: number, 
/**
 * How far the shape changed when it was last carried over to another cut or mesh, mm; none when the pieces were hung.
 */
carried: number | null, 
/**
 * Pieces that stand still as if they were body.
 */
held: Array<PieceId>, 
/**
 * Where hands hold the cloth, m.
 */
hands: Array<[number, number, number]>, 
/**
 * Vertices held by pins.
 */
pins: Array<number>, air: Air, 
/**
 * The body is on its way to the pose of the document.
 */
motion: MotionShown | null, };
export type PieceSpan = { piece: PieceId, first_vertex: number, first_triangle: number, triangles: number, };
export type Event = { "is": "status", status: Status, } | { "is": "layout", generation: number, pieces: Array<PieceSpan>, } | { "is": "checked", generation: number, crossings: Array<CrossingPlace>, strain_mean: number, strain_p99: number, strain_max: number, } | { "is": "kept", fitting: number, } | { "is": "refused", refusal: Refusal, } | { "is": "changed", version: number, };
