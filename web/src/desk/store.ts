import { create } from "zustand";
import { entriesOf } from "../ui/pick";
import type { CrossingPlace, Diagnostic, LineId, NodeId, NoteId, PieceId, Point, SeamId } from "../api/types";
import { trials } from "./trial";
import { bodyDesk, useBody } from "../body/store";
import type { Overlay } from "../stand/overlays";
import type { Unit } from "../ui/units";

export const STAGES = ["body", "draft", "join", "drape", "rehearse", "check", "deliver"] as const;
export type Stage = (typeof STAGES)[number];

/** Stages in which the table stands aside: what is taken hold of there would only be in the way. */
export const isAside = (stage: Stage) => stage === "rehearse" || stage === "check" || stage === "deliver";

export type Tool =
  | "pick"
  | "outline"
  | "half"
  | "freehand"
  | "band"
  | "disc"
  | "oval"
  | "through"
  | "corner"
  | "bow"
  | "inside"
  | "dart"
  | "pleats"
  | "notch"
  | "hole"
  | "text"
  | "cut"
  | "spread"
  | "turn-dart"
  | "measure"
  | "trace"
  | "two-points"
  | "ruler"
  | "straighten"
  | "seam"
  | "flip"
  | "unpick"
  | "paint";

/** What is selected; of several things of one kind, the last. */
export type Selection =
  | { kind: "piece"; piece: PieceId }
  | { kind: "corner"; piece: PieceId; node: NodeId }
  | { kind: "edge"; piece: PieceId; line: LineId }
  | { kind: "seam"; seam: SeamId };

interface DeskState {
  stage: Stage;
  tool: Tool;
  unit: Unit;
  selection: Selection | null;
  /** What is selected besides: further pieces, or further corners of the same piece. */
  also: Selection[];
  hovered: PieceId | null;
  tugging: boolean;
  /** The figure lies under the paper of the table. */
  figureUnder: boolean;
  pinning: boolean;
  /** The next click on the cloth says where a note is pinned. */
  noting: boolean;
  /** Where the note that is being written is pinned, in the frame of its piece, mm. */
  noteAt: { piece: PieceId; at: Point } | null;
  /** The crossing that is shown by itself. */
  isolated: Pick<CrossingPlace, "at" | "pieces" | "kind"> | null;
  /** Cloth in the colours of the check's map instead of its own. */
  mapped: boolean;
  /** Pieces are filled with their fabric on the table. */
  filled: boolean;
  /** The cloth is shown on the stand. */
  clothed: boolean;
  /** What is drawn over the cloth. */
  overlays: Overlay[];
  /** Counts the requests to show all pieces. */
  fits: number;
  /** The pieces that are to be shown then; all when there is none. */
  fitsTo: PieceId[];
  flight: { to: Flight; count: number } | null;
}

/** Where the view flies: a place on the stand, m, or a note on the cloth. */
export type Flight = { at: [number, number, number] } | { note: NoteId };

const fresh: DeskState = {
  stage: "draft",
  tool: "pick",
  unit: "cm",
  selection: null,
  also: [],
  hovered: null,
  tugging: false,
  figureUnder: false,
  pinning: false,
  noting: false,
  noteAt: null,
  isolated: null,
  mapped: false,
  filled: false,
  clothed: true,
  overlays: ["seams", "held"],
  fits: 0,
  fitsTo: [],
  flight: null,
};

export const useDesk = create<DeskState>(() => fresh);

export const useDeskOf = entriesOf(useDesk);

/** Where the pointer is on the table, mm; by itself, as it changes with every movement. */
export const usePointer = create<{ at: { x: number; y: number } | null }>(() => ({ at: null }));

export const desk = {
  reset: () => useDesk.setState({ ...fresh, unit: useDesk.getState().unit }),
  go: (stage: Stage) => {
    bodyDesk.go(useBody.getState().tab);
    trials.clear();
    useDesk.setState({ stage, tool: stage === "join" ? "seam" : "pick", tugging: false, pinning: false, noting: false, noteAt: null, isolated: null, mapped: stage === "check", clothed: stage !== "body" });
  },
  take: (tool: Tool) => {
    trials.clear();
    useDesk.setState({ tool });
  },
  select: (selection: Selection | null) => useDesk.setState({ selection, also: [] }),
  /** What a finding is about. */
  selectFound: ({ seam, piece }: Pick<Diagnostic, "seam" | "piece">) => {
    if (seam !== null) desk.select({ kind: "seam", seam });
    else if (piece !== null) desk.select({ kind: "piece", piece });
  },
  /** Several at once, the last of them foremost. */
  selectAll: (all: Selection[]) => useDesk.setState({ selection: all[all.length - 1] ?? null, also: all.slice(0, -1) }),
  /** Adds a thing of the same kind to the selection, or takes it out. */
  alter: (one: Selection) =>
    useDesk.setState((s) => {
      const all = s.selection ? [...s.also, s.selection] : [];
      const fits = all.every((o) => o.kind === one.kind && (one.kind !== "corner" || (o.kind === "corner" && o.piece === one.piece)));
      if (!fits) return { selection: one, also: [] };
      const rest = all.filter((o) => JSON.stringify(o) !== JSON.stringify(one));
      const now = rest.length < all.length ? rest : [...all, one];
      return { selection: now[now.length - 1] ?? null, also: now.slice(0, -1) };
    }),
  toggleOverlay: (overlay: Overlay) => useDesk.setState((s) => ({ overlays: s.overlays.includes(overlay) ? s.overlays.filter((o) => o !== overlay) : [...s.overlays, overlay] })),
  fitAll: () => useDesk.setState((s) => ({ fits: s.fits + 1, fitsTo: [] })),
  fitSelected: () =>
    useDesk.setState((s) => {
      const one = selectedPiece(s.selection);
      const all = selectedPieces(s);
      return { fits: s.fits + 1, fitsTo: all.length > 0 ? all : one === null ? [] : [one] };
    }),
  flyTo: (to: Flight) => useDesk.setState((s) => ({ flight: { to, count: (s.flight?.count ?? 0) + 1 } })),
  /** Shows a crossing by itself, from near, or everything again. */
  isolate: (place: CrossingPlace) => {
    const off = useDesk.getState().isolated?.at === place.at;
    // curves are seen on plain cloth
    useDesk.setState({ isolated: off ? null : place, mapped: off });
    desk.flyTo(place);
  },
};

/** All selected pieces, the foremost last. */
export function selectedPieces({ selection, also }: Pick<DeskState, "selection" | "also">): PieceId[] {
  return [...also, ...(selection ? [selection] : [])].flatMap((s) => (s.kind === "piece" ? [s.piece] : []));
}

/** All selected corners of the piece that the foremost is of. */
export function selectedNodes({ selection, also }: Pick<DeskState, "selection" | "also">): NodeId[] {
  return [...also, ...(selection ? [selection] : [])].flatMap((s) => (s.kind === "corner" ? [s.node] : []));
}

export const selectedPiece = (s: Selection | null) => (s && s.kind !== "seam" ? s.piece : null);
