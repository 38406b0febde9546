import { create } from "zustand";

/** A sheet over the desk. */
export type SheetName = "search" | "keys" | "history" | "blocks" | "laboratory" | "laying";

/** Which sheet over the desk is open. */
export const useSheets = create<{ open: SheetName | null }>(() => ({ open: null }));
