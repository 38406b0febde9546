import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { notify } from "../ui/notices";
import { get, isAway, post, Refused } from "./http";
import { recover, setWaiting, useOutbox, type Waiting, waitingOf } from "./outbox";
import type { Bodies, CostumeState, Edit, Fabric, OwnSwatch, SwatchBook } from "./types";

const queryKey = (id: number) => ["costume", id];

/** Waits between two tries while the server is away or failed, ms. */
const AGAIN = 1500;

/** Costume state with the ways to change it. Edits go out one after the other and are kept until they are acknowledged. */
export function useCostume(id: number) {
  const client = useQueryClient();
  const known = () => client.getQueryData<CostumeState>(queryKey(id));
  const newer = (state: CostumeState) => {
    const old = known();
    return old && old.version > state.version ? old : state;
  };
  // an answer that was overtaken on its way does not take the desk back
  const query = useQuery({ queryKey: queryKey(id), queryFn: async () => newer(await get<CostumeState>(`/api/costumes/${id}`)) });
  const actions = useMemo(() => {
    let sending = false;
    const show = (state: CostumeState) => client.setQueryData(queryKey(id), newer(state));
    const waits = () => waitingOf(id);
    const done = (key: string) => setWaiting(id, waits().filter((w) => w.key !== key));
    const send = async ({ key, edit }: Waiting, base: number) => {
      show(await post<CostumeState>(`/api/costumes/${id}/edits`, { base, key, edit }));
      done(key);
      useOutbox.setState({ away: false });
      return true;
    };
    /** Whether the next step can be sent at once. */
    const fail = (error: unknown, { key }: Waiting): boolean => {
      const away = isAway(error);
      useOutbox.setState({ away });
      if (away) window.setTimeout(sendNext, AGAIN);
      else if (error instanceof Refused) {
        // made on a step that another window has passed: once more, on the newest state
        if (error.newest) show(error.newest);
        else {
          done(key);
          notify(error.refusal);
        }
      }
      return !away;
    };
    const sendNext = async () => {
      for (;;) {
        const [next] = waits();
        const state = known();
        if (!next || !state || sending) return;
        sending = true;
        const goOn = await send(next, state.step).catch((error: unknown) => fail(error, next));
        sending = false;
        if (!goOn) return;
      }
    };
    const settled = async () => {
      for (let tries = 0; waits().length > 0 && tries < 100; tries++) await new Promise((next) => window.setTimeout(next, 20));
    };
    /** One step along the history, counted once however often it has to be sent. */
    const step = async (way: "undo" | "redo") => {
      const key = crypto.randomUUID();
      for (let tries = 0; ; tries++) {
        const base = known()?.step;
        if (base === undefined) return;
        try {
          return show(await post<CostumeState>(`/api/costumes/${id}/${way}`, { base, key }));
        } catch (error) {
          if (isAway(error) && tries < 3) {
            await new Promise((next) => window.setTimeout(next, 400));
            continue;
          }
          if (error instanceof Refused && error.newest) show(error.newest);
          return notify(error instanceof Refused ? error.refusal : { item: way === "undo" ? "Undo" : "Redo", reason: "the server does not answer", mend: "Try again when it returns" });
        }
      }
    };
    const travel = async (way: "undo" | "redo") => {
      // a step that has not left yet is simply taken back; one that is on its way is awaited
      const list = waits();
      if (way === "undo" && list.length > (sending ? 1 : 0)) return setWaiting(id, list.slice(0, -1));
      await settled();
      return step(way);
    };
    return {
      edit: (edit: Edit) => {
        setWaiting(id, [...waits(), { key: crypto.randomUUID(), edit }]);
        void sendNext();
      },
      undo: () => travel("undo"),
      redo: () => travel("redo"),
      refresh: () => client.invalidateQueries({ queryKey: queryKey(id) }),
      /** Another window, or an answer of this one, made this version. */
      heard: (version: number) => {
        if ((known()?.version ?? -1) < version) void client.invalidateQueries({ queryKey: queryKey(id) });
      },
      resume: async () => {
        const kept = await recover(id);
        if (kept.length > 0) setWaiting(id, [...kept, ...waits()]);
        void sendNext();
      },
    };
  }, [client, id]);
  const loaded = query.data !== undefined;
  useEffect(() => {
    if (loaded) void actions.resume();
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
