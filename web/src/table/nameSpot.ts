import type { Piece } from "../api/types";
import { type Camera, toScreen } from "./camera";

/** The middle of the box around a piece's corners, and its height, mm on the table. */
export const middle = (piece: Piece) => {
  const xs = piece.corners.map((c) => c.at.x);
  const ys = piece.corners.map((c) => c.at.y);
  return { x: (Math.min(...xs) + Math.max(...xs)) / 2 + piece.at.x, y: (Math.min(...ys) + Math.max(...ys)) / 2 + piece.at.y, height: Math.max(...ys) - Math.min(...ys) };
};

/** The middle of the cloth at a height of the table, and how wide it is there, mm. */
function across(piece: Piece, y: number) {
  const at = piece.corners.flatMap((c, i) => {
    const [a, b] = [c.at, (piece.corners[i + 1] ?? piece.corners[0] ?? c).at];
    const t = (y - piece.at.y - a.y) / (b.y - a.y);
    return t >= 0 && t < 1 ? [a.x + t * (b.x - a.x) + piece.at.x] : [];
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

/** Where the cloth is wide enough for the name; nowhere on pieces that are small on screen. */
export function nameSpot(piece: Piece, camera: Camera, line: string): NameSpot | null {
  const m = middle(piece);
  if (m.height * camera.scale < 60) return null;
  const spots = [-0.27, -0.12, 0.3].map((share) => across(piece, m.y + share * m.height));
  const room = (spot: { width: number }) => spot.width * camera.scale - 12;
  const needed = piece.name.length * LETTER.name;
  const spot = spots.find((s) => room(s) > needed) ?? spots.reduce((a, b) => (b.width > a.width ? b : a));
  if (!Number.isFinite(spot.width)) return null;
  const at = toScreen(camera, spot);
  const fits = room(spot) > needed;
  const withLine = room(spot) > line.length * LETTER.fabric + 14;
  return { ...at, width: fits ? needed : needed * 0.8, height: withLine ? 34 : 17, fits, withLine };
}
