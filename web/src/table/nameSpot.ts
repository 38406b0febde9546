import { type Camera, toScreen } from "./camera";
import { type ShownPiece, toTableFrame } from "./shown";

const outline = (piece: ShownPiece) => piece.view.outline.map((l) => toTableFrame(piece.view, l.from));

/** The middle of the box around a piece's corners, and its height, mm on the table. */
export const middle = (piece: ShownPiece) => {
  const points = outline(piece);
  const xs = points.map((c) => c.x);
  const ys = points.map((c) => c.y);
  return { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2, height: Math.max(...ys) - Math.min(...ys) };
};

/** The middle of the cloth at a height of the table, and how wide it is there, mm. */
function across(piece: ShownPiece, y: number) {
  const points = outline(piece);
  const at = points.flatMap((a, i) => {
    const b = points[(i + 1) % points.length] ?? a;
    const t = (y - a.y) / (b.y - a.y);
    return t >= 0 && t < 1 ? [a.x + t * (b.x - a.x)] : [];
  });
  const [low, high] = [Math.min(...at), Math.max(...at)];
  return { x: (low + high) / 2, y, width: high - low };
}

/** Widths of a letter of the name and of the fabric's line, px. */
const LETTER = { name: 7.6, fabric: 5.8 };

/** Where the name of a piece stands on screen, px. */
export interface NameSpot {
  x: number;
  y: number;
  width: number;
  height: number;
  /** The name has room in its usual size. */
  fits: boolean;
  /** The line below it, with the fabric, has room. */
  withLine: boolean;
}

/** The line below a piece's name. */
export const nameLine = (piece: ShownPiece) => (piece.doc.parked ? "parked" : (piece.fabric?.name ?? ""));

const found = new WeakMap<ShownPiece, { camera: Camera; spot: NameSpot | null }>();

/** Where the cloth is wide enough for the name; nowhere on pieces that are small on screen. */
export function nameSpot(piece: ShownPiece, camera: Camera): NameSpot | null {
  const known = found.get(piece);
  if (known?.camera === camera) return known.spot;
  const spot = look(piece, camera);
  found.set(piece, { camera, spot });
  return spot;
}

function look(piece: ShownPiece, camera: Camera): NameSpot | null {
  const line = nameLine(piece);
  const m = middle(piece);
  if (m.height * camera.scale < 60) return null;
  const spots = [-0.27, -0.12, 0.3].map((share) => across(piece, m.y + share * m.height));
  const room = (spot: { width: number }) => spot.width * camera.scale - 12;
  const needed = piece.doc.name.length * LETTER.name;
  const spot = spots.find((s) => room(s) > needed) ?? spots.reduce((a, b) => (b.width > a.width ? b : a));
  if (!Number.isFinite(spot.width)) return null;
  const at = toScreen(camera, spot);
  const fits = room(spot) > needed;
  const withLine = room(spot) > line.length * LETTER.fabric + 14;
  return { ...at, width: fits ? needed : needed * 0.8, height: withLine ? 34 : 17, fits, withLine };
}
