import { create } from "zustand";
import type { Edit } from "./types";

/** An edit that is not acknowledged yet. */
export interface Waiting {
  key: string;
  edit: Edit;
}

interface Outbox {
  waiting: Record<number, Waiting[]>;
  /** The server or its database did not answer when last asked. */
  away: boolean;
}

export const useOutbox = create<Outbox>(() => ({ waiting: {}, away: false }));

const WINDOW = "ourlet.window";
const unsent = (id: number, window = "") => `ourlet.unsent.${id}${window && `.${window}`}`;
/** Longest wait for the lock of this window after a reload, ms; a second tab of the same origin never gets it. */
const PATIENCE = 600;

/** Holds a lock for as long as the window lives; false when another window holds it. */
function hold(name: string): Promise<boolean> {
  return new Promise((decided) => {
    navigator.locks
      .request(name, { signal: AbortSignal.timeout(PATIENCE) }, () => {
        decided(true);
        return new Promise<never>(() => undefined);
      })
      .catch(() => decided(false));
  });
}

/** The name of this window: kept over a reload, never shared with a duplicate of the tab. */
const own: Promise<string> = (async () => {
  const kept = sessionStorage.getItem(WINDOW);
  if (kept && (await hold(`${WINDOW}.${kept}`))) return kept;
  const fresh = crypto.randomUUID();
  sessionStorage.setItem(WINDOW, fresh);
  await hold(`${WINDOW}.${fresh}`);
  return fresh;
})();

let name = "";

function read(key: string): Waiting[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(key) ?? "[]");
    return Array.isArray(list) ? list.filter((w): w is Waiting => typeof w?.key === "string" && typeof w?.edit?.do === "string") : [];
  } catch {
    return [];
  }
}

/** Edits that this window kept before a reload, and those of windows that are gone. */
export async function recover(id: number): Promise<Waiting[]> {
  name = await own;
  return navigator.locks.request(`${WINDOW}.recovering`, async () => {
    const held = new Set((await navigator.locks.query()).held?.map((l) => l.name));
    const keys = Object.keys(localStorage).filter((k) => k === unsent(id) || k.startsWith(`${unsent(id)}.`));
    const found: Waiting[] = [];
    for (const key of keys) {
      const owner = key.slice(unsent(id).length + 1);
      if (owner !== name && held.has(`${WINDOW}.${owner}`)) continue;
      found.push(...read(key));
      localStorage.removeItem(key);
    }
    return found;
  });
}

export const waitingOf = (id: number) => useOutbox.getState().waiting[id] ?? [];

export function setWaiting(id: number, list: Waiting[]) {
  const key = unsent(id, name);
  if (list.length > 0) localStorage.setItem(key, JSON.stringify(list));
  else localStorage.removeItem(key);
  useOutbox.setState((s) => ({ waiting: { ...s.waiting, [id]: list } }));
}
