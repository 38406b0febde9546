import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { create } from "zustand";
import { notify } from "../ui/notices";
import { get, isAway, post, Refused } from "./http";
import type { Bodies, CostumeState, Edit, Swatch } from "./types";

/** Edits that are not acknowledged yet; they survive a reload. */
interface Waiting {
  key: string;
  edit: Edit;
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

const queryKey = (id: number) => ["costume", id];

/** Costume state with the ways to change it. Edits go out one after the other and are kept until they are acknowledged. */
export function useCostume(id: number) {
  const client = useQueryClient();
  const query = useQuery({ queryKey: queryKey(id), queryFn: () => get<CostumeState>(`/api/costumes/${id}`) });
  const actions = useMemo(() => {
    let sending = false;
    const show = (state: CostumeState) => client.setQueryData(queryKey(id), state);
    const sendNext = async () => {
      const [next, ...rest] = useOutbox.getState().waiting[id] ?? [];
      const known = client.getQueryData<CostumeState>(queryKey(id));
      if (!next || !known || sending) return;
      sending = true;
      try {
        show(await post<CostumeState>(`/api/costumes/${id}/edits`, { base: known.step, key: next.key, edit: next.edit }));
        setWaiting(id, rest);
        useOutbox.setState({ away: false });
      } catch (error) {
        if (isAway(error)) {
          useOutbox.setState({ away: true });
          window.setTimeout(sendNext, 1500);
        } else if (error instanceof Refused) {
          setWaiting(id, rest);
          if (error.newest) show(error.newest);
          notify(error.refusal);
        }
      }
      sending = false;
      if (!useOutbox.getState().away) await sendNext();
    };
    const travel = async (way: "undo" | "redo") => {
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
        const stored = localStorage.getItem(storageKey(id));
        if (stored && !useOutbox.getState().waiting[id]?.length) setWaiting(id, JSON.parse(stored) as Waiting[]);
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
export const useSwatches = () => useQuery({ queryKey: ["swatches"], queryFn: () => get<Swatch[]>("/api/swatches"), staleTime: Number.POSITIVE_INFINITY });
