import { create } from "zustand";

/** A line across the whole table, mm: level at a height, or plumb at a place. */
export interface Guide {
  level: boolean;
  at: number;
}

const key = (costume: number) => `ourlet.guides.${costume}`;

interface Guides {
  costume: number;
  all: Guide[];
}

/** Guides of the costume on the desk; they are view, not pattern, and are kept in this browser. */
export const useGuides = create<Guides>(() => ({ costume: 0, all: [] }));

function isGuide(g: unknown): g is Guide {
  return typeof g === "object" && g !== null && "level" in g && typeof g.level === "boolean" && "at" in g && typeof g.at === "number" && Number.isFinite(g.at);
}

export const guides = {
  open: (costume: number) => {
    let all: Guide[] = [];
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(key(costume)) ?? "[]");
      if (Array.isArray(kept)) all = kept.filter(isGuide).slice(0, 100);
    } catch {
      // what cannot be read is left out
    }
    useGuides.setState({ costume, all });
  },
  set: (all: Guide[]) => {
    useGuides.setState({ all });
    localStorage.setItem(key(useGuides.getState().costume), JSON.stringify(all));
  },
};
