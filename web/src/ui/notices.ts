import { create } from "zustand";
import type { Refusal } from "../api/types";

export interface Notice {
  id: number;
  refusal: Refusal;
  /** A way back, such as putting a removed costume back. */
  action?: { name: string; run: () => void };
  good?: boolean;
}

interface Notices {
  list: Notice[];
}

export const useNotices = create<Notices>(() => ({ list: [] }));

let count = 0;

export function dismiss(id: number) {
  useNotices.setState((s) => ({ list: s.list.filter((n) => n.id !== id) }));
}

/** Shows a message for a while; refusals name the item, the reason and the mend. */
export function notify(refusal: Refusal, more: Pick<Notice, "action" | "good"> = {}) {
  count += 1;
  const id = count;
  useNotices.setState((s) => ({ list: [...s.list.slice(-2), { id, refusal, ...more }] }));
  window.setTimeout(() => dismiss(id), more.action ? 12000 : 8000);
}
