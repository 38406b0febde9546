import { create } from "zustand";

/** Which sheet over the desk is open. */
export const useSheets = create<{ open: "search" | "keys" | "history" | "blocks" | "laboratory" | "laying" | null }>(() => ({ open: null }));
