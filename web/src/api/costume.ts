import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { create } from "zustand";
import { notify } from "../ui/notices";
import { get, isAway, post, Refused } from "./http";
import type { Bodies, CostumeState, Edit, Fabric, OwnSwatch, SwatchBook } from "./types";

/** Edits that are not acknowledged yet; they survive a reload. */
interface Waiting {
  key: string;
  edit: Edit;
  /** It was sent again on a newer state. */
  rebased?: boolean;
}

interface Outbox {
  waiting: Record<number, Waiting[]>;
  away: boolean;
}

const storageKey = (id: number) => `ourlet.unsent.${id}`;

export const useOutbox = create<Outbox>(() => ({ waiting: {}, away: false }));

function setWaiting(id: number, list: Waiting[]) {
  if (list.length > 0) localStorage.setItem(storageKey(id), JSON.stringify(list));
  else localStorage.removeItem(storageKey(id));
  useOutbox.setState((s) => ({ waiting: { ...s.waiting, [id]: list } }));
}

/** Edits kept from before a reload; what cannot be read is dropped. */
function stored(id: number): Waiting[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(storageKey(id)) ?? "[]");
    return Array.isArray(list) ? list.filter((w): w is Waiting => typeof w?.key === "string" && typeof w?.edit?.do === "string") : [];
  } catch {
    return [];
  }
}

const queryKey = (id: number) => ["costume", id];

/** Costume state with the ways to change it. Edits go out one after the other and are kept until they are acknowledged. */
export function useCostume(id: number) {
  const client = useQueryClient();
  const query = useQuery({ queryKey: queryKey(id), queryFn: () => get<CostumeState>(`/api/costumes/${id}`) });
  const actions = useMemo(() => {
    let sending = false;
    const show = (state: CostumeState) => client.setQueryData(queryKey(id), state);
    const waits = () => useOutbox.getState().waiting[id] ?? [];
    const done = (key: string) => setWaiting(id, waits().filter((w) => w.key !== key));
    const send = async ({ key, edit }: Waiting, base: number) => {
      show(await post<CostumeState>(`/api/costumes/${id}/edits`, { base, key, edit }));
      done(key);
      useOutbox.setState({ away: false });
      return true;
    };
    /** Whether the next step can be sent at once. */
    const fail = (error: unknown, { key, rebased }: Waiting): boolean => {
      const away = isAway(error);
      useOutbox.setState({ away });
      if (away) window.setTimeout(sendNext, 1500);
      else if (error instanceof Refused) {
        if (error.newest) show(error.newest);
        // made on a step that another window has passed: once more, on the newest state
        if (error.newest && !rebased) setWaiting(id, waits().map((w) => (w.key === key ? { ...w, rebased: true } : w)));
        else {
          done(key);
          notify(error.refusal);
        }
      }
      return !away;
    };
    const sendNext = async () => {
      const [next] = waits();
      const known = client.getQueryData<CostumeState>(queryKey(id));
      if (!next || !known || sending) return;
      sending = true;
      const goOn = await send(next, known.step).catch((error: unknown) => fail(error, next));
      sending = false;
      if (goOn) await sendNext();
    };
    const travel = async (way: "undo" | "redo") => {
      // a step that has not left yet is simply taken back; one that is on its way is awaited
      const list = waits();
      if (way === "undo" && list.length > (sending ? 1 : 0)) return setWaiting(id, list.slice(0, -1));
      for (let tries = 0; waits().length > 0 && tries < 100; tries++) await new Promise((done) => window.setTimeout(done, 20));
      try {
        show(await post<CostumeState>(`/api/costumes/${id}/${way}`));
      } catch (error) {
        notify(error instanceof Refused ? error.refusal : { item: way === "undo" ? "Undo" : "Redo", reason: "the server does not answer", mend: "Try again when it returns" });
      }
    };
    return {
      edit: (edit: Edit) => {
        setWaiting(id, [...(useOutbox.getState().waiting[id] ?? []), { key: crypto.randomUUID(), edit }]);
        void sendNext();
      },
      undo: () => travel("undo"),
      redo: () => travel("redo"),
      refresh: () => client.invalidateQueries({ queryKey: queryKey(id) }),
      resume: () => {
        if (waits().length === 0) setWaiting(id, stored(id));
        void sendNext();
      },
    };
  }, [client, id]);
  const loaded = query.data !== undefined;
  useEffect(() => {
    if (loaded) actions.resume();
  }, [loaded, actions]);
  return { state: query.data, error: query.error, ...actions };
}

export type CostumeActions = Omit<ReturnType<typeof useCostume>, "state" | "error">;

export const useBodies = () => useQuery({ queryKey: ["bodies"], queryFn: () => get<Bodies>("/api/bodies"), staleTime: Number.POSITIVE_INFINITY });
const BOOK = ["swatches"];

/** Keeps cloths in the swatch book and takes them out again; others on the same server see them too. */
export function useBookActions() {
  const client = useQueryClient();
  const then = (sent: Promise<unknown>) =>
    sent.then(
      () => client.invalidateQueries({ queryKey: BOOK }),
      (error: unknown) => notify(error instanceof Refused ? error.refusal : { item: "Swatch book", reason: "the server does not answer", mend: "Try again when it returns" }),
    );
  return {
    keep: (fabric: Fabric) => void then(post("/api/swatches/own", fabric)),
    remove: (own: OwnSwatch) => void then(post(`/api/swatches/own/${own.id}`, undefined, "DELETE")),
  };
}

export const useSwatches = () => useQuery({ queryKey: BOOK, queryFn: () => get<SwatchBook>("/api/swatches"), staleTime: Number.POSITIVE_INFINITY });
