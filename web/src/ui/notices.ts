import { create } from "zustand";
import type { Said } from "../api/said";

export interface Notice {
  id: number;
  refusal: Said;
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

/** Good news go by themselves; a refusal, which names the item, the reason and the remedy, stays until it is closed. */
export function notify(refusal: Said, more: Pick<Notice, "action" | "good"> = {}) {
  count += 1;
  const id = count;
  const same = (n: Notice) => n.refusal.item === refusal.item && n.refusal.reason === refusal.reason;
  useNotices.setState((s) => ({ list: [...s.list.filter((n) => !same(n)).slice(-2), { id, refusal, ...more }] }));
  if (more.good) window.setTimeout(() => dismiss(id), more.action ? 12000 : 8000);
}
