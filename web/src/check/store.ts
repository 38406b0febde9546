import { create } from "zustand";

export const CHECK_TABS = ["findings", "fit", "sizes", "compare"] as const;
export type CheckTab = (typeof CHECK_TABS)[number];

/** How fittings are laid beside each other. */
export type CompareMode = "beside" | "over" | "difference";

interface CheckState {
  tab: CheckTab;
  /** Fittings that are compared, two to four; the first is what the others differ from. */
  compared: number[];
  mode: CompareMode;
  /** A picture to compare with, beside the fittings or under them. */
  reference: string | null;
  under: boolean;
  /** How much of what lies over the picture is seen, 0 to 1, and the field of view, degrees, as its camera had it. */
  cover: number;
  lens: number;
}

/** Upright field of view, degrees, of a picture that nothing is known of. */
export const LENS = 26;

/** What of the check is looked at. */
export const useCheck = create<CheckState>(() => ({ tab: "findings", compared: [], mode: "beside", reference: null, under: false, cover: 0.6, lens: LENS }));

/** Most fittings at once. */
export const MOST = 4;

export const checkDesk = {
  go: (tab: CheckTab) => useCheck.setState({ tab }),
  /** Takes a fitting in, or out; with four the oldest but the first gives way. */
  toggle: (id: number) =>
    useCheck.setState(({ compared }) => {
      if (compared.includes(id)) return { compared: compared.filter((c) => c !== id) };
      return { compared: compared.length < MOST ? [...compared, id] : [...compared.slice(0, 1), ...compared.slice(2), id] };
    }),
  forget: () => useCheck.setState({ compared: [], reference: null, under: false, lens: LENS }),
};
