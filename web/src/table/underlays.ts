import { create } from "zustand";
import { post, postFile, saidOf } from "../api/http";
import type { CostumeActions } from "../api/costume";
import type { CostumeState, Point, RulerTicks, ScanState, Traced, Underlay, UnderlayId } from "../api/types";
import { notify } from "../ui/notices";
import { type Camera, toScreen } from "./camera";
import { besideAll } from "./shown";

/** Taken where a file does not tell, and said so. */
const USUAL_DPI = 150;

interface UnderlayState {
  /** A picture that is dragged, and how far. */
  dragged: { underlay: UnderlayId; by: Point } | null;
  /** A file of several pages that waits for one to be chosen. */
  pages: ScanState | null;
  /** A file is read, or an outline looked for. */
  busy: boolean;
}

/** What happens to pictures under the paper and is no step yet. */
export const useUnderlays = create<UnderlayState>(() => ({ dragged: null, pages: null, busy: false }));

const nothing: Underlay[] = [];

/** The pictures of a costume, the uppermost last. */
export const underlaysOf = (state: Pick<CostumeState, "costume">): Underlay[] => state.costume.underlays ?? nothing;

/** Whether a point is within the corners, which go clockwise. */
const holds = ({ corners }: Underlay, p: Point) =>
  corners.every((a, k) => {
    const b = corners[(k + 1) % 4] ?? a;
    return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) <= 0;
  });

/** The uppermost picture under a place of the table. */
export const underlayAt = (all: Underlay[], p: Point): Underlay | undefined => all.findLast((u) => holds(u, p));

/** Whether a file is a picture that can be traced. */
export const isPicture = (name: string) => /\.(png|jpe?g|pdf)$/i.test(name);

async function waiting<T>(item: string, job: () => Promise<T>): Promise<T | null> {
  useUnderlays.setState({ busy: true });
  try {
    return await job();
  } catch (error) {
    notify(saidOf(error, { item, reason: "the server does not answer", remedy: "Try again when it returns" }));
    return null;
  } finally {
    useUnderlays.setState({ busy: false });
  }
}

/** Brings a picture; the page of a longer PDF is chosen afterwards. */
export async function bringPicture(file: File, state: CostumeState, actions: CostumeActions) {
  const found = await waiting(file.name, () => postFile<ScanState>(`/api/scans?name=${encodeURIComponent(file.name)}`, file));
  if (!found) return;
  if (found.pages.length > 1) useUnderlays.setState({ pages: found });
  else layPage(found, 0, state, actions);
}

/** Lays a page at the scale that its file tells, beside all pieces. */
export function layPage(scan: ScanState, page: number, state: CostumeState, actions: CostumeActions) {
  const found = scan.pages[page];
  useUnderlays.setState({ pages: null });
  if (!found) return;
  const dpi = found.dpi !== null && found.dpi >= 20 && found.dpi <= 1200 ? found.dpi : null;
  const [w, h] = [0, 1].map((k) => ((found.pixels[k] ?? 1) * 25.4) / (dpi ?? USUAL_DPI)) as [number, number];
  const { x, y } = besideAll(state);
  const corners: Underlay["corners"] = [
    { x, y: y + h },
    { x: x + w, y: y + h },
    { x: x + w, y },
    { x, y },
  ];
  actions.edit({ do: "lay-underlay", underlay: { id: 0, name: scan.name, asset: scan.asset, page, pixels: [found.pixels[0], found.pixels[1]], corners, fade: 0 } });
  const remedy = dpi === null ? "Scale it by two points, or by a ruler in it" : `It lies at ${Math.round(dpi)} dpi`;
  notify({ item: scan.name, reason: dpi === null ? `does not tell its scale; ${USUAL_DPI} dpi were taken` : "lies under the paper", remedy }, { good: true });
}

/** Looks for the outline around a place. */
export const traceAt = (costume: number, underlay: UnderlayId, at: Point) => waiting("Trace", () => post<Traced>(`/api/costumes/${costume}/trace`, { underlay, at }));

/** Looks for the ticks of a ruler along a line. */
export const ticksAlong = (costume: number, underlay: UnderlayId, from: Point, to: Point) =>
  waiting("Ruler", () => post<RulerTicks>(`/api/costumes/${costume}/ruler`, { underlay, from, to }));

/** How a picture lies on screen: the map of its pixels as a CSS matrix. */
export function matrixOf({ corners, pixels }: Underlay, camera: Camera, by: Point): string {
  const [a, b, c, d] = corners.map((p) => toScreen(camera, { x: p.x + by.x, y: p.y + by.y })) as [Point, Point, Point, Point];
  // the map of the unit square to four points, as for a sheet seen by a camera
  const [p, q, s] = [
    { x: b.x - c.x, y: b.y - c.y },
    { x: d.x - c.x, y: d.y - c.y },
    { x: a.x - b.x + c.x - d.x, y: a.y - b.y + c.y - d.y },
  ];
  const whole = p.x * q.y - q.x * p.y;
  const [g, h] = [(s.x * q.y - q.x * s.y) / whole, (p.x * s.y - s.x * p.y) / whole];
  const [w, t] = pixels;
  const columns = [
    [(b.x - a.x + g * b.x) / w, (b.y - a.y + g * b.y) / w, 0, g / w],
    [(d.x - a.x + h * d.x) / t, (d.y - a.y + h * d.y) / t, 0, h / t],
    [0, 0, 1, 0],
    [a.x, a.y, 0, 1],
  ];
  return `matrix3d(${columns.flat().join(",")})`;
}

/** mm of a pixel of the picture, and the turn of its upper side in degrees. */
export function measuresOf({ corners, pixels }: Underlay): { dpi: number; turn: number } {
  const [a, b] = corners;
  const area = corners.reduce((sum, p, k) => {
    const next = corners[(k + 1) % 4] ?? p;
    return sum + (p.x * next.y - next.x * p.y) / 2;
  }, 0);
  return { dpi: 25.4 / Math.sqrt(Math.abs(area) / (pixels[0] * pixels[1])), turn: (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI };
}
