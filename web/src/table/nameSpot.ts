import type { Point } from "../api/types";
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

/** The widest stretch of cloth at a height of the table, mm. */
function stretchAt(points: Point[], y: number): readonly [number, number] {
  const at = points.flatMap((a, i) => {
    const b = points[(i + 1) % points.length] ?? a;
    const t = (y - a.y) / (b.y - a.y);
    return t >= 0 && t < 1 ? [a.x + t * (b.x - a.x)] : [];
  });
  at.sort((a, b) => a - b);
  const stretches = at.flatMap((low, i) => (i % 2 === 0 && at[i + 1] !== undefined ? [[low, at[i + 1] as number] as const] : []));
  return stretches.reduce((a, b) => (b[1] - b[0] > a[1] - a[0] ? b : a), [0, -Infinity] as const);
}

/** The middle of the cloth around a height of the table, and how wide it is over the height of a name, mm. */
function across(piece: ShownPiece, y: number, half: number) {
  const points = outline(piece);
  const levels = [y - half, y, y + half].map((level) => stretchAt(points, level));
  const [low, high] = [Math.max(...levels.map((s) => s[0])), Math.min(...levels.map((s) => s[1]))];
  return { x: (low + high) / 2, y, width: high - low };
}

/** Widths of a letter of the name and of the fabric's line, px. */
const LETTER = { name: 7.6, fabric: 5.8 };

/** Half the height of a name, px. */
const HALF = 8;
/** From the middle of the name down to below the fabric's line, px. */
const BELOW = 24;

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
  // high enough above the lower edge for two lines
  const shares = [-0.27, -0.12, 0.3].filter((share) => (0.5 + share) * m.height * camera.scale > BELOW);
  const spots = (shares.length > 0 ? shares : [0.3]).map((share) => across(piece, m.y + share * m.height, HALF / camera.scale));
  const room = (spot: { width: number }) => spot.width * camera.scale - 12;
  const needed = piece.doc.name.length * LETTER.name;
  const spot = spots.find((s) => room(s) > needed) ?? spots.reduce((a, b) => (b.width > a.width ? b : a));
  if (!Number.isFinite(spot.width)) return null;
  const at = toScreen(camera, spot);
  const fits = room(spot) > needed;
  const withLine = room(spot) > line.length * LETTER.fabric + 14;
  return { ...at, width: fits ? needed : needed * 0.8, height: withLine ? 34 : 17, fits, withLine };
}
