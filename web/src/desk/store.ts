import { create } from "zustand";
import { entriesOf } from "../ui/pick";
import type { CrossingPlace, LineId, NodeId, PieceId, SeamId } from "../api/types";
import { trials } from "./trial";
import { bodyDesk, useBody } from "../body/store";
import type { Overlay } from "../stand/overlays";
import type { Unit } from "../ui/units";

export const STAGES = ["body", "draft", "join", "drape", "check", "deliver"] as const;
export type Stage = (typeof STAGES)[number];

export type Tool = "pick" | "corner" | "bow" | "outline" | "band" | "seam" | "flip" | "unpick";

/** What is selected; one thing at a time. */
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
  hovered: PieceId | null;
  /** The edge clicked first while joining. */
  seamStart: { piece: PieceId; line: LineId } | null;
  pointer: { x: number; y: number } | null;
  tugging: boolean;
  pinning: boolean;
  /** Colours by tension instead of cloth. */
  tension: boolean;
  /** Pieces are filled with their fabric on the table. */
  filled: boolean;
  /** The cloth is shown on the stand. */
  clothed: boolean;
  /** What is drawn over the cloth. */
  overlays: Overlay[];
  /** Counts the requests to show all pieces. */
  fits: number;
  flight: { at: [number, number, number]; count: number } | null;
}

const fresh: DeskState = {
  stage: "draft",
  tool: "pick",
  unit: "cm",
  selection: null,
  hovered: null,
  seamStart: null,
  pointer: null,
  tugging: false,
  pinning: false,
  tension: false,
  filled: false,
  clothed: true,
  overlays: ["seams"],
  fits: 0,
  flight: null,
};

export const useDesk = create<DeskState>(() => fresh);

export const useDeskOf = entriesOf(useDesk);

export const desk = {
  reset: () => useDesk.setState({ ...fresh, unit: useDesk.getState().unit }),
  go: (stage: Stage) => {
    bodyDesk.go(useBody.getState().tab);
    trials.clear();
    useDesk.setState({ stage, tool: stage === "join" ? "seam" : "pick", seamStart: null, tugging: false, pinning: false, tension: stage === "check", clothed: stage !== "body" });
  },
  take: (tool: Tool) => {
    trials.clear();
    useDesk.setState({ tool, seamStart: null });
  },
  select: (selection: Selection | null) => useDesk.setState({ selection }),
  toggleOverlay: (overlay: Overlay) => useDesk.setState((s) => ({ overlays: s.overlays.includes(overlay) ? s.overlays.filter((o) => o !== overlay) : [...s.overlays, overlay] })),
  fitAll: () => useDesk.setState((s) => ({ fits: s.fits + 1 })),
  flyTo: (place: CrossingPlace) => useDesk.setState((s) => ({ flight: { at: place.at, count: (s.flight?.count ?? 0) + 1 } })),
};

export const selectedPiece = (s: Selection | null) => (s && s.kind !== "seam" ? s.piece : null);
