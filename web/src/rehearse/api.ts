import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { get, isAway, post, saidOf } from "../api/http";
import type { AgainAsked, KeepFrame, MotionRow, RehearsalAsked, RehearsalRow, RehearsalState } from "../api/types";
import { useDrape } from "../stand/socket";
import { notify } from "../ui/notices";
import { isWorking, rehearse, useRehearse } from "./store";

/** While something is worked at it is asked for again after so many ms. */
const EVERY = 700;

/** The rehearsals of a costume, newest first. */
export function useRehearsals(costume: number) {
  return useQuery({
    queryKey: ["rehearsals", costume],
    queryFn: () => get<RehearsalRow[]>(`/api/costumes/${costume}/rehearsals`),
    refetchInterval: (q) => (q.state.data?.some(isWorking) ? EVERY : false),
  });
}

/** The motions of a costume's body; they change with its figure. */
export function useMotions(costume: number, figure: string | null) {
  return useQuery({ queryKey: ["motions", costume, figure], queryFn: () => get<MotionRow[]>(`/api/costumes/${costume}/motions`) });
}

/** Keeps up with the rehearsal that is looked at: how far it is, and what was found in its frames. */
export function useFollowing() {
  const chosen = useRehearse((s) => s.chosen);
  const { data } = useQuery({
    queryKey: ["rehearsal", chosen],
    enabled: chosen !== null,
    queryFn: () => get<RehearsalState>(`/api/rehearsals/${chosen}?from=${useRehearse.getState().reports.length}`),
    refetchInterval: (q) => (isWorking(q.state.data?.row) ? EVERY : false),
    gcTime: 0,
  });
  useEffect(() => {
    if (!data || data.row.id !== chosen) return;
    useRehearse.setState((s) => {
      const [first] = data.reports;
      // an answer begins where its first report says, also when two of them cross
      const at = first ? first.frame + data.row.lead_in : s.reports.length;
      const reports = at > s.reports.length ? s.reports : [...s.reports.slice(0, at), ...data.reports];
      return { row: data.row, causes: data.causes, reports: reports.slice(0, data.row.done), frame: s.following ? Math.max(0, data.row.done - 1) : s.frame };
    });
  }, [data, chosen]);
}

/** What can be done with rehearsals; refusals are told. */
export function useRehearsing(costume: number) {
  const queries = useQueryClient();
  const renew = () => queries.invalidateQueries({ queryKey: ["rehearsals", costume] });
  const tell = (error: unknown) => notify(saidOf(error, { item: "Rehearsal", reason: isAway(error) ? "the server does not answer" : "could not be done", remedy: "Try again" }));
  const made = async (path: string, body?: unknown) => {
    try {
      const row = await post<RehearsalRow>(path, body);
      await renew();
      return row;
    } catch (error) {
      tell(error);
      return null;
    }
  };
  const shown = async (row: Promise<RehearsalRow | null>) => {
    const found = await row;
    if (found) rehearse.choose(found);
    return found;
  };
  return {
    begin: (asked: RehearsalAsked) => shown(made(`/api/costumes/${costume}/rehearsals`, asked)),
    again: (id: number, asked: AgainAsked) => shown(made(`/api/rehearsals/${id}/again`, asked)),
    cancel: async (id: number) => {
      await made(`/api/rehearsals/${id}/cancel`);
      await queries.invalidateQueries({ queryKey: ["rehearsal", id] });
    },
    resume: (id: number) => shown(made(`/api/rehearsals/${id}/resume`)),
    remove: async (id: number) => {
      await post(`/api/rehearsals/${id}`, undefined, "DELETE").catch(tell);
      if (useRehearse.getState().chosen === id) rehearse.choose(null);
      await renew();
    },
    keep: async (id: number, asked: KeepFrame) => {
      try {
        await post<number>(`/api/rehearsals/${id}/keep`, asked);
        useDrape.setState((s) => ({ kept: s.kept + 1 }));
        notify({ item: asked.name, reason: "kept as a fitting", remedy: "" }, { good: true });
      } catch (error) {
        tell(error);
      }
    },
  };
}
