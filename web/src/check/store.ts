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
  /** A picture to compare with, beside the fittings. */
  reference: string | null;
}

/** What of the check is looked at. */
export const useCheck = create<CheckState>(() => ({ tab: "findings", compared: [], mode: "beside", reference: null }));

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
  forget: () => useCheck.setState({ compared: [], reference: null }),
};
