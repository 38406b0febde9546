import type { Point } from "../api/types";
import { type ShownPiece, toTableFrame } from "./shown";

/** Screen position of the table's origin and pixels per mm; the table's y points up. */
export interface Camera {
  x: number;
  y: number;
  scale: number;
}

export const toScreen = (c: Camera, p: Point): Point => ({ x: c.x + p.x * c.scale, y: c.y - p.y * c.scale });
export const toTable = (c: Camera, p: Point): Point => ({ x: (p.x - c.x) / c.scale, y: (c.y - p.y) / c.scale });

/** The camera by which pieces are drawn before the table is moved: only a change of scale draws them again. */
export const atOrigin = (scale: number): Camera => ({ x: 0, y: 0, scale });

/** Steps in which what is drawn follows the window, px. */
export const TILE = 512;

/** The tiles, px from the table's origin, that a stretch of this length touches. */
export const tiles = (from: number, length: number) => ({ from: Math.floor(from / TILE) * TILE, to: Math.ceil((from + length) / TILE) * TILE });

/** Zooms by a factor; what is under the pointer stays there. */
export function zoom(c: Camera, at: Point, factor: number): Camera {
  const scale = Math.min(8, Math.max(0.03, c.scale * factor));
  const f = scale / c.scale;
  return { scale, x: at.x - (at.x - c.x) * f, y: at.y - (at.y - c.y) * f };
}

/** All pieces, and what lies besides, within the given size, with room for the tray. */
export function fit(pieces: ShownPiece[], width: number, height: number, besides: Point[] = []): Camera {
  const points = [...pieces.flatMap((p) => p.view.outline.map((l) => toTableFrame(p.view, l.from))), ...besides];
  if (points.length === 0) return { x: width / 2, y: height / 2, scale: 0.4 };
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((width - 96) / Math.max(right - left, 100), (height - 150) / Math.max(high - low, 100), 2);
  return { scale, x: width / 2 - (scale * (left + right)) / 2, y: (height - 34) / 2 + (scale * (low + high)) / 2 };
}
