// Generated from the Rust types; `cargo test -p server` says when it is stale and UPDATE_TYPES=1 renews it.

export type Point = { 
/**
 * mm, to the right.
 */
x: number, 
/**
 * mm, upwards.
 */
y: number, };
export type PieceId = number;
export type NodeId = number;
export type LineId = number;
export type PathId = number;
export type MarkId = number;
export type AlongId = number;
export type SeamId = number;
export type FabricId = number;
export type TapeId = number;
export type UnderlayId = number;
export type NoteId = number;
export type Note = { 
/**
 * Its own among the notes.
 */
id: NoteId, 
/**
 * The piece that it is pinned to.
 */
piece: PieceId, 
/**
 * In the frame of the piece, mm.
 */
at: Point, 
/**
 * What is to be done, at most [`crate::limits::TEXT`] characters.
 */
text: string, 
/**
 * It was done.
 */
done?: boolean, };
export type BlockId = number;
export type BlockUse = { 
/**
 * Its own within the costume.
 */
id: BlockId, 
/**
 * Key of the recipe.
 */
recipe: string, 
/**
 * Values that are not the usual ones, by their keys.
 */
values?: { [key in string]?: number }, 
/**
 * Measures in mm, by their keys.
 */
measures: { [key in string]?: number }, 
/**
 * In the order of the recipe, twins after them.
 */
pieces: Array<PieceId>, };
export type RecipeOffer = { key: string, name: string, help: string, values: Array<ValueOffer>, };
export type ValueOffer = { key: string, name: string, low: number, high: number, 
/**
 * `mm`, or what it is counted in.
 */
unit: string, };
export type BodyChoice = { 
/**
 * Key of the size, such as `woman-38`.
 */
preset: string, 
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
pose?: { [key in string]?: [number, number, number] }, 
/**
 * What of the body the cloth meets.
 */
contact?: Contact, };
export type KeptPose = { 
/**
 * As the designer called it; unique among the poses.
 */
name: string, 
/**
 * Bend, side and turn, degrees by bone.
 */
bones: { [key in string]?: [number, number, number] }, };
export type FreeTape = { 
/**
 * Its own among the tapes.
 */
id: TapeId, 
/**
 * As the designer called it.
 */
name: string, 
/**
 * On the neutral pose, mm.
 */
points: Array<[number, number, number]>, 
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
parts?: { [key in string]?: PartContact }, 
/**
 * Stand-ins that cloth meets besides the skin.
 */
shapes?: Array<StandIn>, 
/**
 * Places of the skin where cloth slides less, or more.
 */
rough?: Array<RoughSpot>, };
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
export type StandIn = { 
/**
 * Which solid.
 */
shape: StandInShape, 
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
export type RoughSpot = { 
/**
 * Its middle in the neutral pose, mm.
 */
at: [number, number, number], 
/**
 * mm.
 */
radius: number, 
/**
 * Scales the fabric's friction.
 */
friction: number, };
export type BandLevel = "waist" | "hips" | { "height": number };
export type SkinHold = { 
/**
 * Distance from the skin that the cloth is drawn to, mm; as it lies when its seams are closed, without one.
 */
distance?: number, 
/**
 * How firmly, percent: at 100 every centimetre of a line pulls 1 N when it is 1 mm off.
 */
strength: number, 
/**
 * It may slide along the skin; otherwise it keeps its spot.
 */
slides: boolean, 
/**
 * A stand-in of the body in place of the nearest skin, counted from 0.
 */
to?: number, };
export type PaintUse = { "skin": SkinHold } | { "grip": { factor: number, } } | { "carried": { leash: number, } };
export type PaintKind = "skin" | "grip" | "carried";
export type Paint = { 
/**
 * What it is for.
 */
use: PaintUse, 
/**
 * Corner of the picture where its last row begins, mm in the frame of the piece.
 */
at: Point, 
/**
 * From one column to the next, mm.
 */
right: Point, 
/**
 * From one row to the one above it, mm.
 */
up: Point, 
/**
 * How much is painted: a grey picture, white in full.
 */
image: Raster, };
export type Raster = string;
export type Stroke = { "with": "brush", points: Array<Point>, radius: number, soft: number, value: number, } | { "with": "fill", value: number, } | { "with": "gradient", from: Point, to: Point, values: [number, number], } | { "with": "smooth", radius: number, } | { "with": "picture", image: Raster, };
export type Fineness = "toile" | "sample" | "final" | { "custom": number };
export type Fabric = { 
/**
 * Its own within the costume.
 */
id: FabricId, 
/**
 * As the designer called it.
 */
name: string, 
/**
 * Key in the swatch book, see [`crate::swatch`].
 */
swatch: string, 
/**
 * `#rrggbb`.
 */
colour: string, 
/**
 * What is printed on it.
 */
print: Print | null, 
/**
 * Values that differ from the swatch, by key such as `bend-warp`, in the swatch book's units.
 */
own?: { [key in string]?: number }, };
export type Print = { 
/**
 * Key of the motif, such as `salt-crystals`; of a picture, what it is called.
 */
motif: string, 
/**
 * Width of the repeat in mm.
 */
repeat: number, 
/**
 * `#rrggbb` of the motif.
 */
colour: string, 
/**
 * Hash of the stored picture (PNG or JPEG) that is printed in place of a motif.
 */
image?: string, 
/**
 * Height of the repeat in mm; without one it is square.
 */
height?: number, 
/**
 * Every second column lies half a repeat lower.
 */
half_drop?: boolean, 
/**
 * Degrees counter-clockwise from the grain.
 */
turn?: number, 
/**
 * Once on every piece, with its middle at the place of the print there, instead of repeated.
 */
once?: boolean, };
export type NodeKind = "corner" | "smooth";
export type Node = { 
/**
 * Its own within the costume.
 */
id: NodeId, 
/**
 * mm in the frame of the piece.
 */
at: Point, 
/**
 * Whether the lines that meet here go on in one direction.
 */
kind?: NodeKind, };
export type Line = { 
/**
 * Its own within the costume; stays when its neighbours change.
 */
id: LineId, 
/**
 * Where it begins.
 */
from: NodeId, 
/**
 * Where it ends.
 */
to: NodeId, 
/**
 * Control points of a cubic, mm in the frame of the piece; none for a straight line.
 */
handles?: [Point, Point], };
export type Purpose = { "fold": { angle: number, } } | "style-line" | "stitching" | "dart-leg" | { "placement": { of: PieceId, } };
export type InsidePath = { 
/**
 * Its own within the costume.
 */
id: PathId, 
/**
 * In order, each beginning where the one before ends.
 */
lines: Array<LineId>, 
/**
 * What it is for.
 */
use: Purpose, };
export type Mark = { "notch": { id: MarkId, line: LineId, at: number, double?: boolean, } } | { "drill-hole": { id: MarkId, at: Point, } } | { "text": { id: MarkId, at: Point, text: string, } };
export type AllowanceCorner = "pointed" | "square" | "mirrored";
export type Finish = "stay-tape" | { "elastic": { length: number, } } | "stay" | { "level": { at: BandLevel, } } | { "skin": SkinHold } | { "allowance": { width: number, corner: AllowanceCorner, } } | { "hem": { width: number, } };
export type Along = { 
/**
 * Its own within the costume.
 */
id: AlongId, 
/**
 * The line it runs along.
 */
line: LineId, 
/**
 * Where it begins, as a share of the arc length.
 */
from?: number, 
/**
 * Where it ends, as a share of the arc length.
 */
to?: number, 
/**
 * What is done.
 */
finish: Finish, };
export type Drawing = { 
/**
 * Where lines meet.
 */
nodes: Array<Node>, 
/**
 * Straight and curved, of the outline, the cut-outs and the paths inside.
 */
lines: Array<Line>, 
/**
 * Closed, counter-clockwise; every line ends where the next begins.
 */
outline: Array<LineId>, 
/**
 * Closed loops cut out of the cloth, clockwise.
 */
cutouts?: Array<Array<LineId>>, 
/**
 * Paths on the cloth: folds, style lines, stitching, dart legs, placement lines.
 */
inside?: Array<InsidePath>, 
/**
 * Notches, drill holes and text.
 */
marks?: Array<Mark>, 
/**
 * What is done along lines: tapes, elastics, stays, allowances, hems.
 */
along?: Array<Along>, 
/**
 * What is painted on the cloth.
 */
paint?: Array<Paint>, };
export type Shape = { "drawn": Drawing } | { "twin": { of: PieceId, } };
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
turn: number, 
/**
 * Distance from the skin at which it is hung, mm; as near as it can be without one.
 */
clearance?: number, 
/**
 * Degrees by which its top leans away from the body.
 */
lean?: number, 
/**
 * Turned over: its wrong side is seen.
 */
flip?: boolean, };
export type CutPlan = { 
/**
 * How many of it, for the cutting list.
 */
count?: number, 
/**
 * The straight line of its outline that lies on the fold: the piece is drafted as its half.
 */
on_fold?: LineId, };
export type Piece = { 
/**
 * Its own within the costume.
 */
id: PieceId, 
/**
 * As the designer called it.
 */
name: string, 
/**
 * Where its frame lies on the table, mm.
 */
at: Point, 
/**
 * Degrees counter-clockwise.
 */
angle?: number, 
/**
 * Drawn, or the mirror image of another piece.
 */
shape: Shape, 
/**
 * What it is cut from.
 */
fabric: FabricId, 
/**
 * Direction of the warp, degrees counter-clockwise from the x axis of its frame (90 = upwards).
 */
grain: number, 
/**
 * Where it hangs on the body; without one it cannot be draped.
 */
placement: Placement | null, 
/**
 * Left out of the drape for now.
 */
parked: boolean, 
/**
 * Held on the table: its shape and place are not changed.
 */
locked?: boolean, 
/**
 * Pieces of one number are taken hold of together.
 */
group?: number, 
/**
 * Wear order: 1 lies next to the skin, higher ones over it.
 */
wear?: number, 
/**
 * For the cutting list.
 */
cut?: CutPlan, 
/**
 * Where the print of its fabric begins on it; without one, at the origin of its frame.
 */
print_at?: PrintPlace, };
export type Run = { 
/**
 * The piece it is on.
 */
piece: PieceId, 
/**
 * A line of its drawing.
 */
line: LineId, 
/**
 * Where it begins, as a share of the arc length.
 */
from?: number, 
/**
 * Where it ends; below `from` it is walked backwards.
 */
to?: number, };
export type Ease = "even" | "between-notches";
export type ClosureKind = "zip" | { "buttons": { count: number, } } | "placket" | "slit";
export type Closure = { 
/**
 * The share of the seam that is open, counted from its end.
 */
open: number, 
/**
 * What closes it.
 */
by?: ClosureKind, };
export type SeamTape = "stay" | { "elastic": { length: number, } };
export type TopStitch = { 
/**
 * How many rows.
 */
rows: number, 
/**
 * From the seam to the first row and from row to row, mm.
 */
distance: number, 
/**
 * Of a stitch, mm.
 */
length: number, };
export type Lacing = { 
/**
 * Between its edges, mm.
 */
width: number, 
/**
 * In so many steps it gets there from where its edges hang.
 */
steps: number, };
export type SeamMake = { 
/**
 * How firmly its angle is pressed, times the cloth's own bending stiffness.
 */
press?: number, 
/**
 * The longer side is meant to be so many times as long as the shorter one.
 */
gather?: number, 
/**
 * A tape sewn in.
 */
tape?: SeamTape, 
/**
 * Side a lies over side b by so much, mm, and is sewn down there: a lapped seam.
 */
lap?: number, 
/**
 * Side b is sewn down on side a as well, as in a felled seam.
 */
felled?: boolean, 
/**
 * Held apart at a width.
 */
lacing?: Lacing, 
/**
 * Rows of stitches that are seen.
 */
top_stitch?: TopStitch, };
export type Seam = { 
/**
 * Its own within the costume.
 */
id: SeamId, 
/**
 * Letter tag, the same on both sides.
 */
tag: string, 
/**
 * One side, in sewing order.
 */
a: Array<Run>, 
/**
 * The other side; both are sewn from their start to their end.
 */
b: Array<Run>, 
/**
 * Pressed to this angle from flat, degrees; positive brings the right sides together. `None` is left soft.
 */
fold?: number, 
/**
 * Whether it can be opened, such as a zip, and how far it is.
 */
closure?: Closure, 
/**
 * Where the length that one side has over is taken up.
 */
ease?: Ease, 
/**
 * How it is made.
 */
make?: SeamMake, };
export type Underlay = { 
/**
 * Its own among the pictures.
 */
id: UnderlayId, 
/**
 * As the file was called.
 */
name: string, 
/**
 * Content hash of the stored file.
 */
asset: string, 
/**
 * Page of a PDF, from 0.
 */
page?: number, 
/**
 * Columns and rows of the picture.
 */
pixels: [number, number], 
/**
 * Where its corners lie on the table, mm: upper left, upper right, lower right, lower left of the picture.
 */
corners: [Point, Point, Point, Point], 
/**
 * How far it is faded, 0 (as it is) to 1 (not seen).
 */
fade: number, 
/**
 * Neither the pointer nor an edit moves it.
 */
locked?: boolean, };
export type Costume = { 
/**
 * [`FORMAT`] in every document of this build.
 */
format: number, 
/**
 * As it hangs on the rail.
 */
name: string, 
/**
 * Whom it is made for, and in which pose.
 */
body: BodyChoice, 
/**
 * How fine the cloth is meshed.
 */
fineness: Fineness, 
/**
 * What its pieces are cut from.
 */
fabrics: Array<Fabric>, 
/**
 * In the order in which they lie on the table, the uppermost last.
 */
pieces: Array<Piece>, 
/**
 * What is sewn to what.
 */
seams: Array<Seam>, 
/**
 * Pieces drafted from body measures, as long as they follow them.
 */
blocks?: Array<BlockUse>, 
/**
 * Poses kept by name.
 */
poses?: Array<KeptPose>, 
/**
 * Tapes laid over the body by hand.
 */
tapes?: Array<FreeTape>, 
/**
 * Room that the garment should have at a girth, from and to in mm, by the key of the measure.
 */
wanted_ease?: { [key in string]?: [number, number] }, 
/**
 * What a fitting left to do, pinned to pieces.
 */
notes?: Array<Note>, 
/**
 * Pictures of patterns under the paper, to be traced; never delivered.
 */
underlays?: Array<Underlay>, 
/**
 * The next unused id; ids are never used twice.
 */
next_id: number, };
export type LineRef = { 
/**
 * The piece it is on.
 */
piece: PieceId, 
/**
 * A line of that piece.
 */
line: LineId, };
export type LineEnd = "from" | "to";
export type LoopPoint = { 
/**
 * mm in the frame of the piece.
 */
x: number, 
/**
 * mm in the frame of the piece.
 */
y: number, 
/**
 * Control points of the line that follows; none for a straight one.
 */
handles?: [Point, Point], };
export type Anchor = { "node": NodeId } | { "at": Point } | { "on": { line: LineId, at: number, } };
export type Spot = { "node": NodeId } | { "on": { line: LineId, at: number, } };
export type Basic = { "rectangle": { width: number, height: number, } } | { "ellipse": { width: number, height: number, } } | { "sector": { outer: number, inner: number, degrees: number, } };
export type Arrangement = "left" | "centre" | "right" | "top" | "middle" | "bottom" | "spread-across" | "spread-up";
export type SpreadBy = "parallel" | "hinge";
export type Pleat = "knife" | "box" | "inverted";
export type Edit = { "do": "batch", edits: Array<Edit>, } | { "do": "rename-costume", name: string, } | { "do": "choose-body", body: BodyChoice, } | { "do": "keep-pose", pose: KeptPose, } | { "do": "forget-pose", name: string, } | { "do": "lay-tape", tape: FreeTape, } | { "do": "change-tape", tape: FreeTape, } | { "do": "take-tape-off", tape: TapeId, } | { "do": "choose-fineness", fineness: Fineness, } | { "do": "want-ease", ranges: { [key in string]?: [number, number] }, } | { "do": "pin-note", note: Note, } | { "do": "change-note", note: Note, } | { "do": "take-note-off", note: NoteId, } | { "do": "lay-underlay", underlay: Underlay, } | { "do": "take-underlay", underlay: UnderlayId, } | { "do": "show-underlay", underlay: UnderlayId, fade: number, locked: boolean, } | { "do": "move-underlay", underlay: UnderlayId, 
/**
 * mm.
 */
by: Point, } | { "do": "turn-underlay", underlay: UnderlayId, by: number, } | { "do": "set-underlay-dpi", underlay: UnderlayId, dpi: number, } | { "do": "scale-underlay", underlay: UnderlayId, from: Point, to: Point, length: number, } | { "do": "straighten-underlay", underlay: UnderlayId, corners: [Point, Point, Point, Point], width: number, height: number, } | { "do": "add-piece", name: string, at: Point, points: Array<LoopPoint>, 
/**
 * The line after this point is the fold, and the piece its half.
 */
fold?: number, } | { "do": "remove-piece", piece: PieceId, } | { "do": "copy-piece", piece: PieceId, at: Point, } | { "do": "add-twin", piece: PieceId, at: Point, } | { "do": "separate-twin", piece: PieceId, } | { "do": "rename-piece", piece: PieceId, name: string, } | { "do": "move-piece", piece: PieceId, at: Point, } | { "do": "turn-piece", piece: PieceId, angle: number, } | { "do": "move-node", piece: PieceId, node: NodeId, to: Point, } | { "do": "set-node-kind", piece: PieceId, node: NodeId, kind: NodeKind, } | { "do": "move-handle", piece: PieceId, line: LineId, end: LineEnd, to: Point, } | { "do": "split-line", piece: PieceId, line: LineId, fraction: number, by_length?: boolean, } | { "do": "remove-node", piece: PieceId, node: NodeId, } | { "do": "curve-line", piece: PieceId, line: LineId, } | { "do": "straighten-line", piece: PieceId, line: LineId, } | { "do": "bend-line", piece: PieceId, line: LineId, at: number, to: Point, } | { "do": "set-length", piece: PieceId, line: LineId, length: number, moves: LineEnd, } | { "do": "add-ease", piece: PieceId, line: LineId, amount: number, } | { "do": "set-angle", piece: PieceId, line: LineId, degrees: number, moves: LineEnd, } | { "do": "level-line", piece: PieceId, line: LineId, plumb: boolean, moves: LineEnd, } | { "do": "round-corner", piece: PieceId, node: NodeId, radius: number, } | { "do": "chamfer-corner", piece: PieceId, node: NodeId, length: number, } | { "do": "divide-line", piece: PieceId, line: LineId, parts: number, } | { "do": "move-nodes", piece: PieceId, nodes: Array<NodeId>, by: Point, reach?: number, } | { "do": "redraw-line", piece: PieceId, line: LineId, points: Array<Point>, within: number, } | { "do": "add-freehand", name: string, at: Point, points: Array<Point>, within: number, } | { "do": "add-block", recipe: string, values?: { [key in string]?: number }, measures?: { [key in string]?: number }, at: Point, } | { "do": "change-block", block: BlockId, values?: { [key in string]?: number }, measures?: { [key in string]?: number }, } | { "do": "detach-block", block: BlockId, } | { "do": "add-basic", name: string, at: Point, basic: Basic, } | { "do": "mirror-piece", piece: PieceId, } | { "do": "scale-piece", piece: PieceId, x: number, y: number, } | { "do": "arrange", pieces: Array<PieceId>, how: Arrangement, } | { "do": "order-piece", piece: PieceId, to: number, } | { "do": "lock-pieces", pieces: Array<PieceId>, locked: boolean, } | { "do": "group-pieces", pieces: Array<PieceId>, together: boolean, } | { "do": "paste", clip: Costume, by: Point, } | { "do": "cut-piece", piece: PieceId, from: Spot, to: Spot, through?: Array<Point>, sew: boolean, } | { "do": "merge-pieces", seam: SeamId, } | { "do": "open-fold", piece: PieceId, } | { "do": "close-fold", piece: PieceId, from: NodeId, to: NodeId, } | { "do": "add-dart", piece: PieceId, line: LineId, at: number, width: number, depth: number, } | { "do": "add-inside-dart", piece: PieceId, at: Point, width: number, up: number, down: number, degrees?: number, } | { "do": "turn-dart", piece: PieceId, 
/**
 * The point of the dart.
 */
tip: NodeId, to: Spot, share: number, gathers: boolean, } | { "do": "spread", piece: PieceId, cuts: Array<[Spot, Spot]>, amount: number, by: SpreadBy, } | { "do": "add-pleats", piece: PieceId, from: Spot, to: Spot, count: number, 
/**
 * Of each layer that lies beneath.
 */
depth: number, 
/**
 * From one pleat to the next.
 */
spacing: number, pleat: Pleat, } | { "do": "add-parallel", piece: PieceId, line: LineId, distance: number, purpose: Purpose, } | { "do": "extend-inside", piece: PieceId, path: PathId, end: LineEnd, } | { "do": "add-seam-notch", seam: SeamId, at: number, double?: boolean, } | { "do": "add-cutout", piece: PieceId, points: Array<LoopPoint>, } | { "do": "remove-cutout", piece: PieceId, line: LineId, } | { "do": "add-inside", piece: PieceId, points: Array<Anchor>, purpose: Purpose, } | { "do": "set-purpose", piece: PieceId, path: PathId, purpose: Purpose, } | { "do": "remove-inside", piece: PieceId, path: PathId, } | { "do": "add-notch", piece: PieceId, line: LineId, at: number, double?: boolean, } | { "do": "add-drill-hole", piece: PieceId, at: Point, } | { "do": "add-text", piece: PieceId, at: Point, text: string, } | { "do": "change-mark", piece: PieceId, mark: Mark, } | { "do": "remove-mark", piece: PieceId, mark: MarkId, } | { "do": "set-grain", piece: PieceId, degrees: number, } | { "do": "set-fabric", piece: PieceId, fabric: FabricId, } | { "do": "add-fabric", name: string, swatch: string, colour: string, } | { "do": "change-fabric", fabric: FabricId, name: string, swatch: string, colour: string, print: Print | null, own?: { [key in string]?: number }, } | { "do": "join", a: LineRef, b: LineRef, } | { "do": "sew", a: Array<Run>, b: Array<Run>, } | { "do": "sew-together", a: Array<Run>, b: Array<Run>, } | { "do": "sew-parts", a: Array<Run>, b: Array<Run>, } | { "do": "sew-anew", seam: SeamId, a: Array<Run>, b: Array<Run>, } | { "do": "make-seam", seam: SeamId, make: SeamMake, } | { "do": "flip-seam", seam: SeamId, } | { "do": "unpick", seam: SeamId, } | { "do": "fold-seam", seam: SeamId, fold: number | null, } | { "do": "close-seam", seam: SeamId, closure: Closure | null, } | { "do": "ease-seam", seam: SeamId, ease: Ease, } | { "do": "finish-line", piece: PieceId, line: LineId, from?: number, to?: number, finish: Finish | null, } | { "do": "paint", piece: PieceId, kind: PaintKind, stroke: Stroke, } | { "do": "set-paint", piece: PieceId, purpose: PaintUse, } | { "do": "remove-paint", piece: PieceId, kind: PaintKind, } | { "do": "set-cut", piece: PieceId, cut: CutPlan, } | { "do": "place-print", piece: PieceId, place: PrintPlace | null, } | { "do": "set-wear", piece: PieceId, wear: number, } | { "do": "place", piece: PieceId, placement: Placement | null, } | { "do": "park", piece: PieceId, parked: boolean, };
export type Thing = "piece" | "drawing" | "corner" | "edge" | "cut-out" | "inside-line" | "mark" | "seam" | "fabric" | "tape" | "note" | "pose" | "block" | "underlay" | "paint";
export type Quantity = "measure" | "clearance" | "friction" | { "joint-angle": { bone: string, } } | "half-size" | "fineness" | "grain" | "table-angle" | "station-turn" | "wear-order" | "print-repeat" | "print-height" | "print-turn" | { "cloth-value": { key: string, } } | "pressed-angle" | "elastic" | "beyond" | "open-share" | "press" | "gather" | "lap" | "lacing-width" | "steps" | "buttons" | "rows" | "stitch" | "hung-at" | "lean" | "corner-share" | "line-length" | "line-angle" | "parts" | "tolerance" | "size" | "sector-angle" | "scale" | "dart-share" | "pleats" | "seam-length" | { "block-value": { name: string, } } | "dpi" | "fade" | "pixels" | "page" | "held-at" | "leash" | "strength" | "height" | "brush" | "painted" | "cell-size" | "ease";
export type Counted = "poses" | "tapes" | "measures" | "wanted-ease" | "notes" | "parts" | "stand-ins" | "bones" | "lines" | "corners" | "marks" | "pieces" | "seams" | "fabrics" | "runs" | "edits" | "cuts" | "blocks" | "underlays" | "paints" | "rough-spots" | "stroke-points";
export type LineSpot = { "edge": number } | { "cut-out": number } | "inside";
export type RefusalKind = { "is": "elsewhere" } | { "is": "gone", what: Thing, } | { "is": "out-of-range", of: Quantity, value: number, low: number, high: number, } | { "is": "too-many", of: Counted, count: number, most: number, } | { "is": "name", longest: number, } | { "is": "text", longest: number, } | { "is": "two-poses" } | { "is": "straight" } | { "is": "on-the-fold" } | { "is": "end-of-fold" } | { "is": "too-few-corners", removing: boolean, } | { "is": "no-length", shortest: number, } | { "is": "no-room-to-round", radius: number, } | { "is": "cut-not-across" } | { "is": "not-to-merge" } | { "is": "edges-differ", most: number, } | { "is": "not-on-fold" } | { "is": "halves-differ", most: number, } | { "is": "no-dart" } | { "is": "dart-nowhere" } | { "is": "dart-too-wide", width: number, line: number, } | { "is": "no-room-for-pleat", line: number, } | { "is": "no-recipe", key: string, } | { "is": "no-block-value", key: string, } | { "is": "no-measure", key: string, } | { "is": "block-differs" } | { "is": "locked" } | { "is": "crosses", lines: [LineId, LineId], spots: [LineSpot, LineSpot], } | { "is": "inside-out" } | { "is": "cutout-outside" } | { "is": "path-outside", purpose: Purpose, } | { "is": "path-on-itself", along: boolean, } | { "is": "paths-meet", other: Purpose, along: boolean, } | { "is": "path-points", count: number, most: number, } | { "is": "notch-nowhere" } | { "is": "finish-nowhere" } | { "is": "placement-of-nothing", of: PieceId, } | { "is": "no-fold" } | { "is": "broken-chains" } | { "is": "broken-piece" } | { "is": "cut-no-times" } | { "is": "no-fabric" } | { "is": "twin-of-twin" } | { "is": "twin-of-undrawn" } | { "is": "no-twin" } | { "is": "twin-on-fold" } | { "is": "no-swatch", key: string, } | { "is": "no-cloth-value", key: string, } | { "is": "no-colour", text: string, } | { "is": "no-hash" } | { "is": "no-picture-hash" } | { "is": "stand-in-away" } | { "is": "tape-points", count: number, most: number, } | { "is": "tape-away" } | { "is": "underlay-locked" } | { "is": "no-rectangle" } | { "is": "off-table", metres: number, } | { "is": "sewn-to-itself", whole: boolean, } | { "is": "tag-twice" } | { "is": "empty-side" } | { "is": "run-nowhere" } | { "is": "run-beyond" } | { "is": "sews-the-fold" } | { "is": "ratio", ratio: number, most: number, } | { "is": "sewn-already", tag: string, } | { "is": "half-twist" } | { "is": "no-parts" } | { "is": "run-too-short", shortest: number, } | { "is": "nested" } | { "is": "too-large", bytes: number, most: number, made: boolean, } | { "is": "unreadable", found: string, } | { "is": "unwritten", found: string, } | { "is": "format", found: number, newest: number, } | { "is": "id-twice", id: number, } | { "is": "ids-beyond", next: number, most: number, };
export type Refusal = { 
/**
 * What is refused, with its numbers.
 */
kind: RefusalKind, 
/**
 * What is concerned, by the name the designer gave it.
 */
item: string, 
/**
 * Why it cannot be done, in words that follow the name.
 */
reason: string, 
/**
 * What would be accepted.
 */
remedy: string, };
export type Severity = "error" | "warning";
export type DiagnosticKind = { "is": "nothing-hangs", empty: boolean, } | { "is": "no-station", piece: PieceId, } | { "is": "unknown", piece: PieceId | null, item: string, reason: string, remedy: string, } | { "is": "too-thick", fabric: FabricId, thickness: number, edge: number, } | { "is": "folds-too-fine", fabric: FabricId, fold: number, edge: number, } | { "is": "too-stiff", piece: PieceId, length: number, bends: number, } | { "is": "parked-seam", seam: SeamId, } | { "is": "uneven", seam: SeamId, difference: number, gathered: boolean, ratio: number, meant: number | null, } | { "is": "half-twist", seam: SeamId, } | { "is": "crossed", seam: SeamId, other: string, } | { "is": "corners-apart", seam: SeamId, other: string, apart: number, } | { "is": "twin-open", piece: PieceId, line: LineId, seam: string, } | { "is": "open-tube", piece: PieceId, } | { "is": "held-by-nothing", piece: PieceId, } | { "is": "notches-apart", seam: SeamId, apart: number, } | { "is": "allowances-overlap", piece: PieceId, } | { "is": "sewn-twice", seam: SeamId, other: string, };
export type MendKind = "ease-in" | "meant" | "trim" | "add-notch" | "turn-round" | "unpick" | "exchange" | "meet" | "join";
export type Mend = { 
/**
 * What it does.
 */
kind: MendKind, 
/**
 * The same in words.
 */
name: string, 
/**
 * The step.
 */
edit: Edit, };
export type Diagnostic = { 
/**
 * What it is, for whoever does not read the words.
 */
kind: DiagnosticKind, 
/**
 * Whether it keeps the drape from starting.
 */
severity: Severity, 
/**
 * What is concerned, by the name the designer gave it.
 */
item: string, 
/**
 * What is the matter, in words that follow the name.
 */
reason: string, 
/**
 * What can be done.
 */
remedy: string, 
/**
 * The piece to select.
 */
piece: PieceId | null, 
/**
 * The seam to select.
 */
seam: SeamId | null, 
/**
 * What mends it, likeliest first; may be none.
 */
mends: Array<Mend>, };
export type Look = "plain" | "twill" | "satin" | "knit" | "nap" | "leather" | "net" | "sheer";
export type Swatch = { 
/**
 * As it stands in documents.
 */
key: string, 
/**
 * As it stands in the book.
 */
name: string, 
/**
 * g/m².
 */
density: number, 
/**
 * N/m, initial slope.
 */
stretch_warp: number, 
/**
 * N/m, initial slope, across.
 */
stretch_weft: number, 
/**
 * N/m.
 */
shear: number, 
/**
 * µN·m.
 */
bend_warp: number, 
/**
 * µN·m, across.
 */
bend_weft: number, 
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
drape_low: number, 
/**
 * The upper end of that range, percent.
 */
drape_high: number, 
/**
 * How it is drawn.
 */
look: Look, };
export type ClothValue = { 
/**
 * As it stands among the overrides of a fabric.
 */
key: string, 
/**
 * As it stands in the interface.
 */
name: string, 
/**
 * Of the value.
 */
unit: string, 
/**
 * Least value taken.
 */
low: number, 
/**
 * Largest value taken.
 */
high: number, 
/**
 * What more of it does.
 */
says: string, };
export type CrossingKind = "cloth-body" | "cloth-cloth" | "cloth-left-out";
export type StretchRow = { fabric: string, 
/**
 * Strain along a thread up to which it is comfortable, and up to which it stretches at all; 0.02 is 2 %.
 */
limits: [number, number], 
/**
 * Of its area: comfortable, tight, beyond its stretch.
 */
shares: [number, number, number], };
export type LengthRow = { 
/**
 * Such as `Centre back`.
 */
name: string, 
/**
 * Along the cloth from its upper edge to its lower one, mm; of a sleeve from its hem to the wrist.
 */
length: number, 
/**
 * Lower end over the floor, mm.
 */
floor: number, };
export type BalanceRow = { 
/**
 * Its letter.
 */
seam: string, 
/**
 * Degrees by which its lower end swings to the front.
 */
forward: number, };
export type DragLine = { 
/**
 * Its middle, m.
 */
at: [number, number, number], 
/**
 * Unit vector along it, m.
 */
along: [number, number, number], 
/**
 * mm.
 */
length: number, 
/**
 * Mean stretch along it; 0.02 is 2 %.
 */
strain: number, 
/**
 * The pieces that it runs over, each once.
 */
pieces: Array<PieceId>, 
/**
 * What it most likely points at, in words.
 */
cause: string, };
export type HangReport = { lengths: Array<LengthRow>, balance: Array<BalanceRow>, 
/**
 * How far the cloth is from its own mirror image, the mean of all places, mm.
 */
mirrored: number, 
/**
 * Share of the cloth that is bent more sharply than to a radius of 15 mm.
 */
wrinkled: number, 
/**
 * Lines along which it pulls, the strongest first.
 */
drags: Array<DragLine>, };
export type CrossingPlace = { 
/**
 * What crosses what.
 */
kind: CrossingKind, 
/**
 * m, on the stand.
 */
at: [number, number, number], 
/**
 * The pieces that take part, each once.
 */
pieces: Array<PieceId>, 
/**
 * Crossing triangle pairs; 0 for cloth that lies inside the body altogether.
 */
pairs: number, 
/**
 * Of the line along which surfaces cross, mm.
 */
length: number, 
/**
 * How deep it goes, mm.
 */
depth: number, 
/**
 * Where surfaces cross, m: stretches of the curve without order, [`MOST_STRETCHES`] at most.
 */
curve: Array<[[number, number, number], [number, number, number]]>, 
/**
 * Key of the part of the body, if it is left out.
 */
part: string | null, 
/**
 * Key of the part of the body that is nearest.
 */
near: string | null, 
/**
 * Which choice most likely has brought the cloth there, in words.
 */
cause: string, };
export type CheckMap = "tension" | "warp" | "weft" | "bias" | "slack" | "pull-warp" | "pull-weft" | "ease" | "touch";
export type GirthRow = { 
/**
 * Key of the measure, such as `bust`; of a tape laid by hand `tape-` and its id.
 */
measure: string, 
/**
 * In the words of a measuring sheet.
 */
name: string, 
/**
 * By a tape around the body as it stands.
 */
body: number, 
/**
 * By a tape around the garment, over hollows and folds.
 */
garment: number, 
/**
 * Along the cloth itself, with all its folds.
 */
cloth: number, 
/**
 * How far the cloth is stretched along the tape: 0.02 is 2 %; 0 where it is not.
 */
stretch: number, 
/**
 * Room between both tapes were the cloth not stretched: negative for what clings.
 */
ease: number, 
/**
 * The cloth closes around.
 */
closed: boolean, 
/**
 * Middle of the tape on the stand, m, and the normal of its plane.
 */
at: [number, number, number], normal: [number, number, number], };
export type HemRow = { 
/**
 * Pieces along it, each once.
 */
pieces: Array<PieceId>, 
/**
 * Along the border, mm.
 */
length: number, 
/**
 * Heights over the floor, mm: the mean, and in front, left, back and right.
 */
height: number, heights: [number, number, number, number], 
/**
 * Degrees by which it drops towards its lowest side.
 */
tilt: number, 
/**
 * Folds around, their depth, and the way from one to the next, mm.
 */
folds: number, depth: number, wavelength: number, 
/**
 * 1 where left and right are alike.
 */
symmetry: number, };
export type BearerRow = { 
/**
 * Such as `Waist`.
 */
name: string, 
/**
 * What it bears, upwards, N.
 */
force: number, 
/**
 * Of the garment's weight.
 */
share: number, 
/**
 * Of the friction that there can be, the share that is used; near 1 the cloth is about to slip. None for stays and pins.
 */
grip: number | null, };
export type CheckReport = { 
/**
 * One entry for each connected place, the worst first.
 */
crossings: Array<CrossingPlace>, 
/**
 * Largest principal strain per vertex, averaged: 0.02 is 2 %.
 */
tension: Array<number>, 
/**
 * How far each fabric is stretched.
 */
stretch: Array<StretchRow>, 
/**
 * Mean of the largest principal strain of all triangles; 0.02 is 2 %.
 */
strain_mean: number, strain_p99: number, 
/**
 * The largest.
 */
strain_max: number, 
/**
 * Girths beside the body's, from the neck down.
 */
girths: Array<GirthRow>, 
/**
 * Hems that go around the body, the lowest first.
 */
hems: Array<HemRow>, 
/**
 * How it hangs.
 */
hang: HangReport, };
export type SeamKind = "flat" | "eased" | "gathered" | "stretched";
export type Proposal = { 
/**
 * One side.
 */
a: Array<Run>, 
/**
 * The other side.
 */
b: Array<Run>, 
/**
 * Both in words.
 */
a_name: string, 
/**
 * Both in words.
 */
b_name: string, 
/**
 * mm.
 */
a_length: number, 
/**
 * mm.
 */
b_length: number, 
/**
 * Nothing else comes near; what is not sure is shown and not chosen.
 */
sure: boolean, 
/**
 * 0 fits in every way, more the less it does.
 */
cost: number, 
/**
 * What speaks for it.
 */
reasons: Array<string>, };
export type Hanging = { 
/**
 * Which piece.
 */
piece: PieceId, 
/**
 * Its name.
 */
name: string, 
/**
 * Where it would hang.
 */
placement: Placement, 
/**
 * The station in words.
 */
station: string, 
/**
 * What speaks for it.
 */
why: string, };
export type Walked = { 
/**
 * The piece of side b that touches now.
 */
piece: PieceId, 
/**
 * Where the origin of its frame lies on the table, and its angle, degrees counter-clockwise.
 */
at: Point, 
/**
 * Its angle on the table.
 */
angle: number, 
/**
 * Where the sides touch, on the table.
 */
touch: Point, 
/**
 * What is walked of both sides.
 */
walked: number, 
/**
 * What is left of side a and of side b.
 */
left: [number, number], 
/**
 * Of the pair of notches passed last: how much later that of side b came.
 */
notch: number | null, };
export type FindingKind = "not-at-rest" | "open-seams" | "inside-body" | "threads-through-body" | "crosses-body" | "crosses-cloth" | "overstretched" | "crosses-left-out" | "not-checked";
export type Finding = { 
/**
 * What it is, as a value.
 */
kind: FindingKind, 
/**
 * A few words that stand by themselves: \"2 seams open by up to 11.3 cm\".
 */
words: string, 
/**
 * The drape is not good while this holds.
 */
is_fault: boolean, };
export type SeamGap = { 
/**
 * Its letter.
 */
tag: string, 
/**
 * The widest pair, mm; 0 when all are fused.
 */
max_gap_mm: number, };
export type StrainFigures = { 
/**
 * Over all triangles; 0.02 is 2 %.
 */
mean: number, p99: number, 
/**
 * Of the worst triangle.
 */
max: number, };
export type CrossingCount = { 
/**
 * Cloth through skin.
 */
cloth_body: number, 
/**
 * Cloth through cloth.
 */
cloth_cloth: number, };
export type DrapeReport = { 
/**
 * Its name.
 */
costume: string, 
/**
 * Key of the size, such as `woman-38`, or the hash of a figure.
 */
body: string, 
/**
 * Wanted edge length of the triangles, mm.
 */
edge_mm: number, 
/**
 * Of the cloth, before seams are fused.
 */
vertices: number, 
/**
 * Of the cloth.
 */
triangles: number, 
/**
 * Time in the cloth.
 */
simulated_seconds: number, 
/**
 * Time it took.
 */
wall_seconds: number, 
/**
 * Whether it came to rest.
 */
at_rest: boolean, 
/**
 * One for each seam, images too.
 */
seams: Array<SeamGap>, 
/**
 * How far each fabric is stretched, by its own limits.
 */
stretch: Array<StretchRow>, 
/**
 * Largest principal strain of the triangles.
 */
strain: StrainFigures, 
/**
 * What passes through what.
 */
crossings: CrossingCount, 
/**
 * Where, the worst first.
 */
places: Array<CrossingPlace>, 
/**
 * Of a vertex below the skin, mm.
 */
deepest_penetration_mm: number, 
/**
 * Keys of the parts of the body that cloth passes through, and crossing triangle pairs by part.
 */
left_out: { [key in string]?: number }, 
/**
 * Girths beside the body's, mm, from the neck down.
 */
girths: Array<GirthRow>, 
/**
 * Hems that go around the body, the lowest first, mm.
 */
hems: Array<HemRow>, 
/**
 * How it hangs.
 */
hang: HangReport, 
/**
 * All that is the matter, in words.
 */
findings: Array<Finding>, };
export type EaseKind = "close" | "regular" | "loose";
export type SizeRow = { 
/**
 * The size, or the hash of a figure.
 */
body: BodyChoice, 
/**
 * What was found; none when it could not be hung on this body.
 */
report: DrapeReport | null, 
/**
 * Every limit that is passed, in words; the reason when it could not be hung.
 */
passed: Array<string>, 
/**
 * Of the pieces as they are drafted for this body, mm: name, width, height.
 */
pieces: Array<[string, number, number]>, };
export type Cut = { 
/**
 * Index of the piece in its plan.
 */
piece: number, 
/**
 * Index of the point of its outline where it begins and ends.
 */
from: number, };
export type CutterWay = { 
/**
 * One entry a piece, in order.
 */
cuts: Array<Cut>, 
/**
 * With the knife down, and lifted, mm.
 */
cut: number, travel: number, seconds: number, 
/**
 * How fast it goes, mm/s, and how long it takes to put the knife down and to lift it, s.
 */
knife: number, head: number, lift: number, };
export type LaidPiece = { name: string, 
/**
 * Which costume or size it is of.
 */
of: string, turned: boolean, 
/**
 * The cutting line, mm; x across the cloth, y along it.
 */
outline: Array<[number, number]>, };
export type FabricPlan = { fabric: string, 
/**
 * mm.
 */
width: number, length: number, 
/**
 * Share of the cloth that pieces cover.
 */
used: number, pieces: Array<LaidPiece>, 
/**
 * How it is cut.
 */
way: CutterWay, };
export type LayOptions = { 
/**
 * mm.
 */
width: number, 
/**
 * Between pieces, mm.
 */
gap: number, 
/**
 * The cloth has a nap: no piece lies head down.
 */
nap: boolean, 
/**
 * Orders that are tried.
 */
rounds: number, };
export type WantedEase = { 
/**
 * Key of the girth, such as `bust`.
 */
measure: string, 
/**
 * mm.
 */
ease: number, };
export type FreeValue = { "kind": "block", block: BlockId, value: string, } | { "kind": "nodes", piece: PieceId, nodes: Array<NodeId>, along: Point, } | { "kind": "size", pieces: Array<PieceId>, up: boolean, };
export type EaseAsked = { 
/**
 * One to six girths.
 */
wanted: Array<WantedEase>, 
/**
 * Up to six values; with none, those that make the garment wider at the girths (see [`usual_values`]).
 */
free: Array<FreeValue>, };
export type EaseTry = { 
/**
 * Change of every free value, mm.
 */
changes: Array<number>, 
/**
 * Ease at every wanted girth, mm.
 */
eases: Array<number>, at_rest: boolean, 
/**
 * Places where cloth goes through something.
 */
crossings: number, 
/**
 * Stretch that 99 of 100 triangles do not reach; 0.02 is 2 %.
 */
strain_p99: number, };
export type SizeChange = { 
/**
 * Which, in words.
 */
name: string, 
/**
 * mm.
 */
by: number, };
export type PieceChange = { name: string, before: [number, number], after: [number, number], };
export type EaseOutcome = { 
/**
 * The step that makes the pattern so; it is the designer's to take.
 */
edit: Edit, 
/**
 * All that was tried; the first is the pattern as it was.
 */
tries: Array<EaseTry>, 
/**
 * Which of them is the best.
 */
best: number, 
/**
 * Every girth is within [`NEAR`] of what was wanted.
 */
reached: boolean, 
/**
 * The values in words.
 */
values: Array<SizeChange>, 
/**
 * Pieces of another size.
 */
pieces: Array<PieceChange>, };
export type LayoutCheck = { 
/**
 * Parts that hang together in it.
 */
islands: number, 
/**
 * Triangles that lie on another one, that lie face down, that have no area, and that reach beyond the tile from 0 to 1.
 */
overlapping: number, mirrored: number, flat_triangles: number, beyond_tile: number, 
/**
 * Length in the layout by length on the cloth at the first of a hundred, the middle and the last, by the middle.
 */
density: [number, number], 
/**
 * Length in the layout of a metre of cloth.
 */
per_metre: number, 
/**
 * How much longer one way than the other, at the worst of a hundred; 1 is without distortion.
 */
distortion: number, };
export type MeshCheck = { vertices: number, triangles: number, 
/**
 * Shortest, middle and longest edge, mm.
 */
edges: [number, number, number], 
/**
 * Smallest and largest angle, degrees.
 */
angles: [number, number], 
/**
 * Edges of one triangle only, of more than two, and of two that face opposite ways.
 */
open_edges: number, shared_edges: number, turned_edges: number, 
/**
 * Triangles without area.
 */
flat_triangles: number, 
/**
 * Vertices of no triangle, and groups of vertices at one place.
 */
loose_vertices: number, doubled_vertices: number, 
/**
 * Triangles of every connected part, the largest first.
 */
parts: Array<number>, 
/**
 * Open edges that lie along others without being joined: ends, m.
 */
touching: Array<[[number, number, number], [number, number, number]]>, 
/**
 * Places where it crosses itself, and the body.
 */
cloth_cloth: number, cloth_body: number, 
/**
 * Pairs of triangles that cross there, of cloth with cloth and with the body.
 */
pairs: [number, number], 
/**
 * Its texture layout, if it has one.
 */
layout: LayoutCheck | null, 
/**
 * All that is the matter, in words.
 */
passed: Array<string>, };
export type JobAsked = { "kind": "sizes", bodies: Array<BodyChoice>, } | { "kind": "ease", asked: EaseAsked, } | { "kind": "cloths", cloths: Array<ClothAsked>, } | { "kind": "lay", sizes: Array<BodyChoice>, options: LayOptions, };
export type JobPart = { "kind": "size", row: SizeRow, } | { "kind": "try", tried: EaseTry, } | { "kind": "cloth", sheet: LabSheet, } | { "kind": "plan", plan: FabricPlan, };
export type JobRow = { id: number, name: string, asked: JobAsked, 
/**
 * waiting, running, done, cancelled or failed.
 */
state: string, 
/**
 * All parts as far as is known, and those that are done.
 */
parts: number, done: number, 
/**
 * What each came to, in their order.
 */
results: Array<JobPart>, outcome: EaseOutcome | null, 
/**
 * Why it failed.
 */
fault: Refusal | null, 
/**
 * Seconds of work so far.
 */
seconds: number, 
/**
 * Milliseconds since 1970.
 */
asked_at: number, };
export type WorkRow = { 
/**
 * `rehearsal` or `job`.
 */
kind: string, id: number, costume: number, costume_name: string, name: string, 
/**
 * waiting, running, done, cancelled or failed.
 */
state: string, 
/**
 * Frames or parts: those that are done, and all.
 */
done: number, of: number, 
/**
 * Seconds of work so far.
 */
seconds: number, 
/**
 * Milliseconds since 1970.
 */
asked_at: number, };
export type FileKind = "obj" | "glb" | "ply" | "stl" | "usda" | "usdz";
export type Layout = "metres" | "unit" | "tile" | "fabric-tiles" | "piece-tiles";
export type Unit = "mm" | "cm" | "m" | "inch";
export type ThickSide = "outwards" | "inwards" | "both";
export type DeliverOptions = { 
/**
 * The format.
 */
kind: FileKind, 
/**
 * Seams fused into common vertices, or left as separate edges.
 */
welded: boolean, 
/**
 * How the flat pieces lie in texture coordinates.
 */
layout: Layout, 
/**
 * Adds the body as a mesh of its own.
 */
with_body: boolean, 
/**
 * Unit of OBJ, PLY, STL and USD; GLB is in metres whatever is chosen.
 */
unit: Unit, 
/**
 * z points up in OBJ, PLY, STL and USD, and y to the back; otherwise y is up and z to the front.
 */
z_up: boolean, 
/**
 * Triangles, or faces of four sides.
 */
faces: Faces, 
/**
 * How often every triangle becomes four, smoothly; 0 as simulated.
 */
smooth: number, 
/**
 * Share of the triangles that is kept, percent: fewer where the surface is even.
 */
lighter: number, 
/**
 * Further levels of detail, each with half the triangles of the one before, in files of their own.
 */
levels: number, 
/**
 * Of the cloth, mm; 0 is a single layer.
 */
thickness: number, side: ThickSide, 
/**
 * Side of the texture of a tile, px: one of [`TEXTURES`].
 */
texture: number, 
/**
 * Least distance of pieces in a tile, px of its texture.
 */
margin: number, 
/**
 * Pieces may be turned by quarters in a tile, whatever their grain.
 */
turn: boolean, 
/**
 * Prints are drawn into the texture of the layout instead of repeated on coordinates of their own; in OBJ, which has but one set,
 * always. Not where the layout is in metres.
 */
baked: boolean, };
export type Faces = "triangles" | "quads";
export type TilesPreview = { tiles: number, texels_per_cm: number, 
/**
 * 0 to 1.
 */
used: number, };
export type DeliveryPreview = { 
/**
 * Of the garment.
 */
vertices: number, triangles: number, 
/**
 * Of these faces how many have four sides, two triangles each.
 */
quads: number, 
/**
 * Of the body, if it comes along.
 */
body_triangles: number, 
/**
 * Groups of the garment, one for each piece.
 */
groups: number, 
/**
 * Different materials of the garment.
 */
materials: number, 
/**
 * Extent of the garment in the unit of the file: width, height, depth.
 */
size: [number, number, number], 
/**
 * Tiles of the layout, texels to a centimetre, and the share of the tiles that cloth covers; none where pieces are not packed.
 */
tiles: TilesPreview | null, 
/**
 * Triangles of the further levels of detail.
 */
levels: Array<number>, 
/**
 * Names of the files that would be written.
 */
files: Array<string>, };
export type WindKey = { 
/**
 * s from the first frame of the motion.
 */
time: number, 
/**
 * m/s.
 */
speed: number, 
/**
 * Degrees to the left of the front from which it comes.
 */
from: number, };
export type Plan = { 
/**
 * Frames a second.
 */
fps: number, 
/**
 * Frames from the pose of the drape to the first of the motion; they are not delivered.
 */
lead_in: number, 
/**
 * Frames after the last of the motion in which the body stands.
 */
settle: number, 
/**
 * Friction of the floor.
 */
floor: number, 
/**
 * So many times the steps that the speed of the skin asks for.
 */
substeps: number, 
/**
 * Added to the clearance from the skin, mm.
 */
clearance: number, 
/**
 * The wind along the motion; none is calm.
 */
wind: Array<WindKey>, 
/**
 * How unsteady it is, 0 to 1, and by which numbers.
 */
gusts: number, seed: number, 
/**
 * What is beside the body, besides what belongs to the motion.
 */
props: Array<Prop>, };
export type Cause = "fast-limb" | "squeezed" | "too-coarse" | "clearance" | "layers" | "runs-away";
export type FrameReport = { 
/**
 * 0 is the first of the motion; the lead-in has negative numbers.
 */
frame: number, 
/**
 * Steps of the simulation in it.
 */
steps: number, 
/**
 * Places where cloth crosses the skin.
 */
through_body: number, 
/**
 * Places where cloth crosses cloth.
 */
through_cloth: number, 
/**
 * Places where cloth lies in a fold in which the skin itself goes through skin, as in an armpit; no fault of the cloth, and not
 * seen.
 */
in_skin_folds: number, 
/**
 * The piece of the first crossing.
 */
crossing_piece: string | null, 
/**
 * Where it is, m.
 */
crossing_at: [number, number, number] | null, 
/**
 * Why the frame fails; none when it is good.
 */
cause: Cause | null, 
/**
 * Seam pairs that are not closed.
 */
open_pairs: number, 
/**
 * Largest strain, and the strain that 99 of 100 triangles stay below.
 */
strain_max: number, strain_p99: number, 
/**
 * Fastest vertex at the end of the frame, m/s.
 */
fastest: number, 
/**
 * How fast the cloth that lies on the skin slips along it, m/s: the root mean square.
 */
slip: number, };
export type MotionChoice = { "named": string } | { "poses": unknown } | { "clip": number } | "skin";
export type RehearsalRow = { id: number, name: string, 
/**
 * waiting, running, done, cancelled or failed.
 */
state: string, 
/**
 * All frames with the lead-in, those of the lead-in, and those that are stored.
 */
frames: number, lead_in: number, done: number, 
/**
 * Frames with a fault.
 */
bad: number, 
/**
 * The rehearsal whose first frames this one has, and how many.
 */
begun_with: number | null, begun_at: number, 
/**
 * Without its props, which may be large.
 */
plan: Plan, 
/**
 * Why it failed.
 */
fault: Refusal | null, 
/**
 * Seconds of work so far.
 */
seconds: number, triangles: number | null, 
/**
 * Only pieces worn up to this are in it.
 */
layers: number | null, 
/**
 * The rehearsal whose cloth lies beneath this one.
 */
beneath: number | null, 
/**
 * Milliseconds since 1970.
 */
asked_at: number, };
export type PropShown = { name: string, 
/**
 * m.
 */
corners: Array<[number, number, number]>, triangles: Array<[number, number, number]>, };
export type RehearsalHead = { 
/**
 * Vertices and triangles of the body.
 */
body_vertices: number, body_triangles: number, fps: number, pieces: Array<PieceSpan>, props: Array<PropShown>, };
export type PropShape = { "box": { size: [number, number, number], } } | { "cylinder": { radius: number, height: number, } } | { "ring": { radius: number, thickness: number, } } | "plane" | { "mesh": { positions: Array<[number, number, number]>, triangles: Array<[number, number, number]>, } };
export type HeldLine = { 
/**
 * The piece.
 */
piece: PieceId, 
/**
 * Its line.
 */
line: LineId, };
export type PropKey = { 
/**
 * s from the beginning of the motion.
 */
time: number, 
/**
 * m, from where the body begins: to its left, up from the floor, forwards.
 */
at: [number, number, number], 
/**
 * Degrees, seen from above counter-clockwise.
 */
turn: number, };
export type Prop = { 
/**
 * As it is told.
 */
name: string, 
/**
 * What it is.
 */
shape: PropShape, 
/**
 * In the order of their times; it stands before the first and after the last.
 */
keys: Array<PropKey>, 
/**
 * The bone that it goes with from the pose of the drape on; its keys tell where it is beside that pose.
 */
rides?: string, 
/**
 * What of the cloth is held to it, as it lies when the rehearsal begins.
 */
holds?: Array<HeldLine>, };
export type MotionRow = { choice: MotionChoice, name: string, 
/**
 * Whether it came with the figure.
 */
own: boolean, };
export type RehearsalAsked = { motion: MotionChoice, plan: Plan, 
/**
 * A first look, with triangles so large that it is made almost as fast as it plays.
 */
quick: boolean, 
/**
 * Only the pieces worn up to this layer.
 */
layers?: number, 
/**
 * A finished rehearsal of this costume's inner layers, over which the outer ones are rehearsed: in its motion and frames.
 */
beneath?: number, };
export type CauseShown = { cause: Cause, why: string, mend: string, };
export type RehearsalState = { row: RehearsalRow, reports: Array<FrameReport>, 
/**
 * All causes of faults in words.
 */
causes: Array<CauseShown>, };
export type AgainAsked = { 
/**
 * Counted with the lead-in; it goes on from the state before it.
 */
frame: number, 
/**
 * The old plan when there is none; its motion and its frames stay.
 */
plan?: Plan, 
/**
 * Tries the mend for what was found in that frame, from ten frames before.
 */
mend: boolean, };
export type KeepFrame = { frame: number, name: string, };
export type LineView = { line: LineId, 
/**
 * On the half that a fold adds: it follows the line of the document.
 */
image: boolean, 
/**
 * Shown against the direction of the document's line.
 */
turned: boolean, 
/**
 * The nodes it begins and ends at.
 */
node: NodeId, end: NodeId, 
/**
 * The node it begins at is one of the document, not an image.
 */
own_node: boolean, from: Point, to: Point, handles: [Point, Point] | null, 
/**
 * Arc length.
 */
length: number, 
/**
 * The tape along it.
 */
finish: Finish | null, 
/**
 * How it is held to the body.
 */
held: Finish | null, 
/**
 * Cloth beyond the whole line: an allowance, and a hem.
 */
allowance: number | null, hem: number | null, };
export type PathView = { path: PathId, purpose: Purpose, lines: Array<LineView>, };
export type PaintView = { purpose: PaintUse, 
/**
 * Its lower left corner; from there to the lower right and to the upper left one.
 */
at: Point, across: Point, tall: Point, 
/**
 * PNG in base64, white where it is painted in full.
 */
image: string, };
export type StitchView = { piece: PieceId, points: Array<Point>, length: number, };
export type NotchView = { mark: MarkId, at: Point, inwards: Point, double: boolean, };
export type MarkView = { mark: MarkId, at: Point, text: string | null, };
export type PieceView = { piece: PieceId, at: Point, 
/**
 * Degrees counter-clockwise.
 */
angle: number, placement: Placement | null, twin_of: PieceId | null, 
/**
 * Of the box around the outline with its curves.
 */
width: number, height: number, 
/**
 * Counter-clockwise.
 */
outline: Array<LineView>, 
/**
 * Clockwise.
 */
cutouts: Array<Array<LineView>>, inside: Array<PathView>, notches: Array<NotchView>, 
/**
 * Drill holes and texts.
 */
marks: Array<MarkView>, 
/**
 * What is painted on it.
 */
paint: Array<PaintView>, 
/**
 * Along which it is cut, the outline first; none without cloth beyond its lines.
 */
cutting: Array<Array<Point>>, };
export type RunView = { piece: PieceId, line: LineId, image: boolean, from: number, to: number, };
export type SeamView = { seam: SeamId, 
/**
 * The mirror image of a seam of the document.
 */
image: boolean, tag: string, 
/**
 * mm.
 */
a: number, b: number, 
/**
 * The longer side over the shorter one, and what is done with the difference.
 */
ratio: number, kind: SeamKind, 
/**
 * Flat, within what the cloth can take up, or as it is meant.
 */
good: boolean, 
/**
 * Shares up to which the cloth can be eased and stretched.
 */
ease_limit: number, stretch_limit: number, 
/**
 * Pairs of notches that meet, as shares of side a and side b.
 */
notches: Array<[number, number]>, 
/**
 * Rows of top-stitching.
 */
stitches: Array<StitchView>, runs_a: Array<RunView>, runs_b: Array<RunView>, };
export type PatternView = { pieces: Array<PieceView>, seams: Array<SeamView>, };
export type CostumeState = { id: number, production: number, costume: Costume, step: number, 
/**
 * Grows with every change, also by undo and redo: an answer with a lower one is older.
 */
version: number, can_undo: boolean, can_redo: boolean, 
/**
 * What the document comes to.
 */
pattern: PatternView, diagnostics: Array<Diagnostic>, 
/**
 * What every block is drafted with, chosen or usual on its body.
 */
block_values: Array<{ [key in string]?: number }>, };
export type ListChange<T> = { count: number, changed: Array<[number, T]>, };
export type CostumeChange = { 
/**
 * The step that it is told against.
 */
since: number, step: number, version: number, can_undo: boolean, can_redo: boolean, 
/**
 * The document without its pieces and seams.
 */
rest: Costume, pieces: ListChange<Piece>, seams: ListChange<Seam>, 
/**
 * The same of the pattern.
 */
shown_pieces: ListChange<PieceView>, shown_seams: ListChange<SeamView>, diagnostics: Array<Diagnostic>, 
/**
 * What every block is drafted with, chosen or usual on its body.
 */
block_values: Array<{ [key in string]?: number }>, };
export type Told = { "is": "whole" } & CostumeState | { "is": "changed" } & CostumeChange;
export type ReadPieces = { 
/**
 * Lays them on the table.
 */
edit: Edit, pieces: number, 
/**
 * What was not understood, with its place in the file.
 */
left_out: Array<string>, };
export type PaperChoice = "a4" | "a3" | "letter" | "a0" | "roll";
export type GripShown = { block: BlockId, key: string, name: string, 
/**
 * mm.
 */
at: [number, number, number], 
/**
 * How it moves when the value grows by a millimetre, mm.
 */
axis: [number, number, number], 
/**
 * mm.
 */
value: number, low: number, high: number, };
export type MotifState = { key: string, name: string, };
export type PrintPlace = { 
/**
 * In the frame of the piece, mm: a corner of the repeat, or the middle of what is printed once.
 */
at: Point, 
/**
 * Degrees counter-clockwise, beside that of the print itself.
 */
turn?: number, };
export type ScanPageState = { pixels: [number, number], 
/**
 * Dots per inch, where the file tells.
 */
dpi: number | null, };
export type ScanState = { asset: string, name: string, pages: Array<ScanPageState>, };
export type Traced = { edit: Edit, 
/**
 * Corners of the outline.
 */
corners: number, 
/**
 * mm².
 */
area: number, 
/**
 * Widest gap that was bridged, mm.
 */
bridged: number, };
export type RulerTicks = { count: number, 
/**
 * mm on the table, as the picture lies now.
 */
spacing: number, };
export type HistoryStep = { step: number, parent: number | null, 
/**
 * Where redo leads from it.
 */
next: number | null, 
/**
 * What was done, by the kind of the edit; the first step has none.
 */
kind: Edit["do"] | null, 
/**
 * The name that the edit gives, if it gives one.
 */
name: string | null, 
/**
 * Milliseconds since 1970.
 */
made_at: number, };
export type GoRequest = { 
/**
 * The step that was seen when it was asked for.
 */
base: number, 
/**
 * Chosen by the browser, so that one sent twice counts once.
 */
key: string, 
/**
 * Any step of the history, also on another branch.
 */
step: number, };
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
export type FlatOutline = { 
/**
 * Commands of an SVG path.
 */
path: string, 
/**
 * `#rrggbb` of its fabric.
 */
colour: string, };
export type FlatPicture = { 
/**
 * Left, top, width and height of the drawing.
 */
view: [number, number, number, number], 
/**
 * All that are not parked, or all when all are.
 */
pieces: Array<FlatOutline>, };
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
export type ImportOrientation = { 
/**
 * Metres of one unit.
 */
unit: number, 
/**
 * Which axis of the file points up.
 */
up: Axis, 
/**
 * Where the face looks.
 */
front: Axis, };
export type FigureSheet = { 
/**
 * As the designer called it.
 */
name: string, 
/**
 * Unit and axes by which it is read.
 */
stance: ImportOrientation, 
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
flipped: number, 
/**
 * Loops of edges with a triangle on one side only.
 */
holes: number, 
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
export type MeasurementShown = { key: string, name: string, asked: number | null, measured: number, 
/**
 * Height of the tape on the neutral pose.
 */
height: number | null, };
export type TapeShown = { id: TapeId, mm: number, 
/**
 * m, on the stand.
 */
path: Array<[number, number, number]>, };
export type StationShown = { key: string, name: string, 
/**
 * Before the skin, m.
 */
at: [number, number, number], 
/**
 * Unit vectors: to the right of a piece that hangs there, up along it, and away from the body.
 */
right: [number, number, number], up: [number, number, number], out: [number, number, number], };
export type BodyShown = { name: string, vertices: number, triangles: number, 
/**
 * Whether the neutral positions follow.
 */
posed: boolean, bones: Array<BoneShown>, parts: Array<PartShown>, taken: Array<MeasurementShown>, tapes: Array<TapeShown>, stations: Array<StationShown>, };
export type FittingRow = { id: number, name: string, body: string, at_rest: boolean, crossings: number, 
/**
 * Milliseconds since 1970.
 */
kept_at: number, };
export type FittingHead = { name: string, pieces: Array<PieceSpan>, 
/**
 * Of each of the pieces: its fabric and its grain, degrees.
 */
worn: Array<[Fabric, number, PrintPlace | null]>, body_triangles: number, report: DrapeReport, };
export type Command = { "do": "trial", number: number, edit: Edit, } | { "do": "drape" } | { "do": "pause" } | { "do": "step" } | { "do": "rehang", piece?: PieceId, } | { "do": "push-out", at: [number, number, number], } | { "do": "wind-back", by: number, } | { "do": "grab", hand: number, vertex: number, } | { "do": "pull-to", hand: number, at: [number, number, number], } | { "do": "let-go", hand?: number, } | { "do": "hold", piece: PieceId, on: boolean, } | { "do": "go-back" } | { "do": "pin", vertex: number, } | { "do": "air", air: Air, } | { "do": "check" } | { "do": "map", map: CheckMap, } | { "do": "keep", name: string, } | { "do": "open", fitting: number, };
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
export type IssueShown = { item: string, reason: string, remedy: string, 
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
export type LabNumbers = { 
/**
 * g/m².
 */
weight: number, 
/**
 * mm.
 */
thickness: number, 
/**
 * Along warp and weft, mm.
 */
bending_length: [number, number], 
/**
 * Along warp and weft, percent under the load.
 */
extension: [number, number], 
/**
 * Of a strip on the bias under the same load, percent.
 */
bias?: number, 
/**
 * Under which the extension was read, N/m.
 */
load: number, 
/**
 * Of a disc of 30 cm over one of 18 cm, percent.
 */
drape: number, };
export type LabResidual = { 
/**
 * Which test.
 */
name: string, unit: string, measured: number, fitted: number, };
export type LabRow = { 
/**
 * Which test, such as `strip-warp`.
 */
test: string, unit: string, 
/**
 * In the laboratory.
 */
measured: number, 
/**
 * From the values of the cloth by a formula.
 */
expected: number, };
export type LabSheet = { 
/**
 * Drape coefficient of every specimen, percent.
 */
drape: Array<number>, 
/**
 * Folds of every specimen.
 */
nodes: Array<number>, 
/**
 * Outline of the first specimen from above, mm from the middle of its stand.
 */
outline: Array<[number, number]>, 
/**
 * Bending lengths, strips, shear and slope.
 */
rows: Array<LabRow>, };
export type LabFit = { 
/**
 * By the keys of the swatch book, in its units.
 */
values: { [key in string]?: number }, residuals: Array<LabResidual>, };
export type LabAsked = { swatch: string, numbers: LabNumbers, };
export type ClothAsked = { 
/**
 * Key of the swatch.
 */
swatch: string, own: { [key in string]?: number }, };
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
left_out: Array<string>, trouble: IssueShown | null, 
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
 * Moments of the last seconds, a quarter of a second apart, and how many of them lie after the one on the stand.
 */
past: [number, number], 
/**
 * The body is on its way to the pose of the document.
 */
motion: MotionShown | null, };
export type PieceSpan = { piece: PieceId, first_vertex: number, first_triangle: number, triangles: number, };
export type Event = { "is": "status", status: Status, } | { "is": "layout", generation: number, pieces: Array<PieceSpan>, 
/**
 * The seams whose numbers stand in the binary layout, in their order; twins' seams have the id of their partner.
 */
seams: Array<SeamId>, 
/**
 * Vertices that are held to the body.
 */
held: Array<number>, } | { "is": "checked", generation: number, crossings: Array<CrossingPlace>, 
/**
 * What the map shows whose values come along.
 */
map: CheckMap, strain_mean: number, strain_p99: number, strain_max: number, girths: Array<GirthRow>, hems: Array<HemRow>, stretch: Array<StretchRow>, hang: HangReport, 
/**
 * What carries the garment, the strongest first; looked at for the map of touch alone.
 */
bearers: Array<BearerRow>, 
/**
 * Of the garment, N; 0 where it was not looked at.
 */
weight: number, 
/**
 * Cloth that lies on the skin, cm², and the highest pressure, kPa; 0 where it was not looked at.
 */
touching: number, highest: number, } | { "is": "kept", fitting: number, } | { "is": "refused", refusal: Refusal, } | { "is": "trial", number: number, pattern: PatternView | null, refusal: Refusal | null, } | { "is": "changed", change: CostumeChange, };
