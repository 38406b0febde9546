import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { notify } from "../ui/notices";
import { tookAlong } from "./along";
import { get, isAway, post, Refused } from "./http";
import { merged } from "./merge";
import { recover, setWaiting, useOutbox, type Waiting, waitingOf } from "./outbox";
import type { Bodies, CostumeChange, CostumeState, Edit, Fabric, OwnSwatch, SwatchBook, Told } from "./types";

const queryKey = (id: number) => ["costume", id];

const WAYS = { undo: "Undo", redo: "Redo", go: "History" };

/** Waits between two tries while the server is away or failed, ms. */
const AGAIN = 1500;

/** Costume state with the ways to change it. Edits go out one after the other and are kept until they are acknowledged. */
export function useCostume(id: number) {
  const client = useQueryClient();
  const known = () => client.getQueryData<CostumeState>(queryKey(id));
  // loaded once; from then on the changes are put together with what is known
  const query = useQuery({
    queryKey: queryKey(id),
    queryFn: async () => {
      const told = await get<Told>(`/api/costumes/${id}`);
      if (told.is !== "whole") throw new Error("The costume came without its pieces");
      return told;
    },
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnMount: "always",
  });
  const actions = useMemo(() => {
    let sending = false;
    /** An answer that was overtaken on its way does not take the desk back. */
    const hear = (change: CostumeChange): Promise<void> | undefined => {
      const now = known();
      if (!now || now.version >= change.version) return undefined;
      if (now.step !== change.since) return catchUp();
      client.setQueryData(queryKey(id), merged(now, change));
      return undefined;
    };
    /** Asks for what was missed since the step that is known. */
    const catchUp = async () => {
      const now = known();
      if (!now) return;
      const told = await get<Told>(`/api/costumes/${id}?since=${now.step}`);
      if (told.is === "changed") await hear(told);
      else if ((known()?.version ?? -1) < told.version) client.setQueryData(queryKey(id), told);
    };
    const take = async (told: Told) => (told.is === "changed" ? hear(told) : undefined);
    const waits = () => waitingOf(id);
    const done = (key: string) => setWaiting(id, waits().filter((w) => w.key !== key));
    const send = async ({ key, edit }: Waiting, base: number) => {
      const before = known();
      await take(await post<Told>(`/api/costumes/${id}/edits`, { base, key, edit }));
      const after = known();
      const along = before && after && before.step === base ? tookAlong(before, after, edit) : null;
      if (along) notify(along, { good: true, action: { name: "Undo", run: () => void travel("undo") } });
      done(key);
      useOutbox.setState({ away: false });
      return true;
    };
    /** Whether the next step can be sent at once. */
    const fail = async (error: unknown, { key }: Waiting): Promise<boolean> => {
      let away = isAway(error);
      if (error instanceof Refused && !away) {
        // made on a step that another window has passed: once more, on the newest state
        if (error.status === 409) away = await catchUp().then(
            () => false,
            () => true,
          );
        else {
          done(key);
          notify(error.refusal);
        }
      }
      useOutbox.setState({ away });
      if (away) window.setTimeout(sendNext, AGAIN);
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
    /** A way along the history, counted once however often it has to be sent. */
    const walk = async (way: "undo" | "redo" | "go", step?: number) => {
      const key = crypto.randomUUID();
      for (let tries = 0; ; tries++) {
        const base = known()?.step;
        if (base === undefined) return;
        try {
          return await take(await post<Told>(`/api/costumes/${id}/${way}`, { base, key, step }));
        } catch (error) {
          if (isAway(error) && tries < 3) {
            await new Promise((next) => window.setTimeout(next, 400));
            continue;
          }
          if (error instanceof Refused && error.status === 409) await catchUp().catch(() => undefined);
          return notify(error instanceof Refused ? error.refusal : { item: WAYS[way], reason: "the server does not answer", remedy: "Try again when it returns" });
        }
      }
    };
    const travel = async (way: "undo" | "redo" | "go", step?: number) => {
      // a step that has not left yet is simply taken back; one that is on its way is awaited
      const list = waits();
      if (way === "undo" && list.length > (sending ? 1 : 0)) return setWaiting(id, list.slice(0, -1));
      await settled();
      return walk(way, step);
    };
    return {
      edit: (edit: Edit) => {
        setWaiting(id, [...waits(), { key: crypto.randomUUID(), edit }]);
        void sendNext();
      },
      undo: () => travel("undo"),
      redo: () => travel("redo"),
      /** To any step of the history, also on another branch. */
      go: (step: number) => travel("go", step),
      /** What another window did, or this one. */
      heard: (change: CostumeChange) => void hear(change)?.catch(() => undefined),
      /** The way to the server was open again: what happened meanwhile was not heard. */
      reopened: () => void catchUp().catch(() => undefined),
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
  return { state: query.data, error: query.error, actions };
}

export type CostumeActions = ReturnType<typeof useCostume>["actions"];

export const useBodies = () => useQuery({ queryKey: ["bodies"], queryFn: () => get<Bodies>("/api/bodies"), staleTime: Number.POSITIVE_INFINITY });
const BOOK = ["swatches"];

/** Keeps cloths in the swatch book and takes them out again; others on the same server see them too. */
export function useBookActions() {
  const client = useQueryClient();
  const then = (sent: Promise<unknown>) =>
    sent.then(
      () => client.invalidateQueries({ queryKey: BOOK }),
      (error: unknown) => notify(error instanceof Refused ? error.refusal : { item: "Swatch book", reason: "the server does not answer", remedy: "Try again when it returns" }),
    );
  return {
    keep: (fabric: Fabric) => void then(post("/api/swatches/own", fabric)),
    remove: (own: OwnSwatch) => void then(post(`/api/swatches/own/${own.id}`, undefined, "DELETE")),
  };
}

export const useSwatches = () => useQuery({ queryKey: BOOK, queryFn: () => get<SwatchBook>("/api/swatches"), staleTime: Number.POSITIVE_INFINITY });
