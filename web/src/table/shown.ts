import { useMemo } from "react";
import type { CostumeState, Fabric, LineView, PathView, PatternView, Piece, PieceId, PieceView, Point, SeamView } from "../api/types";
import { useTrial } from "../desk/trial";

/** A piece as it lies on the table: what the document says of it, and the geometry that the server made of that. */
export interface ShownPiece {
  id: PieceId;
  doc: Piece;
  view: PieceView;
  fabric: Fabric | undefined;
}

export interface ShownPattern {
  pieces: ShownPiece[];
  seams: SeamView[];
  /** The seams of the document alone, without what is tried out. */
  sewn: SeamView[];
}

/** The pattern with the answer to what is being tried out. */
export function useShown(state: CostumeState): ShownPattern {
  const trial = useTrial((s) => s.pattern);
  return useMemo(() => shownPattern(state, trial), [state, trial]);
}

/** The pattern with what a trial changes in it. */
export function shownPattern(state: CostumeState, trial: PatternView | null): ShownPattern {
  const views = new Map(state.pattern.pieces.map((v) => [v.piece, v]));
  for (const view of trial?.pieces ?? []) views.set(view.piece, view);
  const fabrics = new Map(state.costume.fabrics.map((f) => [f.id, f]));
  const pieces = state.costume.pieces.flatMap((doc) => {
    const view = views.get(doc.id);
    return view ? [shown(doc, view, fabrics.get(doc.fabric))] : [];
  });
  const tried = trial?.seams ?? [];
  const seams = tried.length === 0 ? state.pattern.seams : state.pattern.seams.map((s) => tried.find((t) => t.seam === s.seam && t.image === s.image) ?? s);
  return { pieces, seams, sewn: state.pattern.seams };
}

const made = new WeakMap<Piece, ShownPiece>();

/** The same value as long as nothing of the piece changes, so that it is not drawn again. */
function shown(doc: Piece, view: PieceView, fabric: Fabric | undefined): ShownPiece {
  const known = made.get(doc);
  if (known && known.view === view && known.fabric === fabric) return known;
  const piece = { id: doc.id, doc, view, fabric };
  made.set(doc, piece);
  return piece;
}

/** All lines of a piece: its outline, its cut-outs and its paths inside. */
export const allLines = (view: PieceView): LineView[] => [...view.outline, ...view.cutouts.flat(), ...view.inside.flatMap((p) => p.lines)];

/** "Edge 3" as the table counts them. */
export function lineTitle(view: PieceView, line: number): string {
  const edge = view.outline.findIndex((l) => l.line === line && !l.image);
  if (edge >= 0) return `Edge ${edge + 1}`;
  const cutout = view.cutouts.findIndex((c) => c.some((l) => l.line === line));
  return cutout >= 0 ? `Cut-out ${cutout + 1}` : "Line inside";
}

/** The points where lines begin that are nodes of the document, each once. */
export function nodesOf(view: PieceView): { node: number; at: Point }[] {
  const found = new Map<number, Point>();
  for (const l of allLines(view)) if (l.own_node && !found.has(l.node)) found.set(l.node, l.from);
  for (const l of view.inside.flatMap((p) => p.lines)) if (!l.image && !found.has(l.end)) found.set(l.end, l.to);
  return [...found].map(([node, at]) => ({ node, at }));
}

export const foldsOf = (view: PieceView): (PathView & { purpose: { fold: { angle: number } } })[] =>
  view.inside.flatMap((p) => (typeof p.purpose === "object" && "fold" in p.purpose ? [{ ...p, purpose: p.purpose }] : []));

/** The box around the corners of a piece in its own frame, mm. */
export function cornerBox(view: PieceView) {
  const [xs, ys] = [view.outline.map((l) => l.from.x), view.outline.map((l) => l.from.y)];
  return { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) };
}

/** The point of a piece, in its own frame, that lies at its station: its middle, moved by the shift. */
export function atStation(view: PieceView): Point | null {
  if (!view.placement || view.outline.length === 0) return null;
  const { left, right, low, high } = cornerBox(view);
  return { x: (left + right) / 2 - view.placement.shift.x, y: (low + high) / 2 - view.placement.shift.y };
}

/** The lower left of the free room to the right of all pieces, mm on the table. */
export function besideAll(state: CostumeState): Point {
  const corners = state.pattern.pieces.flatMap((v) => v.outline.map((l) => toTableFrame(v, l.from)));
  return corners.length === 0 ? { x: 0, y: 0 } : { x: Math.max(...corners.map((c) => c.x)) + 80, y: Math.min(...corners.map((c) => c.y)) };
}

/** From the frame of a piece to the table, and back. */
export function toTableFrame(view: PieceView, p: Point): Point {
  if (view.angle === 0) return { x: p.x + view.at.x, y: p.y + view.at.y };
  const [sin, cos] = [Math.sin((view.angle * Math.PI) / 180), Math.cos((view.angle * Math.PI) / 180)];
  return { x: view.at.x + p.x * cos - p.y * sin, y: view.at.y + p.x * sin + p.y * cos };
}

export function toPieceFrame(view: PieceView, p: Point): Point {
  const d = { x: p.x - view.at.x, y: p.y - view.at.y };
  if (view.angle === 0) return d;
  const [sin, cos] = [Math.sin((view.angle * Math.PI) / 180), Math.cos((view.angle * Math.PI) / 180)];
  return { x: d.x * cos + d.y * sin, y: d.y * cos - d.x * sin };
}

/** Seams of what is tried out that are not known yet. */
export const newSeams = (tried: SeamView[] | undefined, known: SeamView[]): SeamView[] => (tried ?? []).filter((t) => !known.some((s) => s.seam === t.seam && s.image === t.image));
