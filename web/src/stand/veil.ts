import { create } from "zustand";
import type { PieceId } from "../api/types";

/** What is not shown on the stand, and what one can see through; of this window alone. */
export const useVeil = create<{ hidden: PieceId[]; ghosts: PieceId[] }>(() => ({ hidden: [], ghosts: [] }));

const toggled = (all: PieceId[], piece: PieceId) => (all.includes(piece) ? all.filter((p) => p !== piece) : [...all, piece]);

export const veil = {
  hide: (piece: PieceId) => useVeil.setState((s) => ({ hidden: toggled(s.hidden, piece) })),
  ghost: (piece: PieceId) => useVeil.setState((s) => ({ ghosts: toggled(s.ghosts, piece) })),
  /** Shows one piece alone. */
  isolate: (piece: PieceId, all: PieceId[]) => useVeil.setState({ hidden: all.filter((p) => p !== piece) }),
  showAll: () => useVeil.setState({ hidden: [], ghosts: [] }),
};
