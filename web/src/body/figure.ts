import { useQuery, useQueryClient } from "@tanstack/react-query";
import { get, post, postFile, Refused } from "../api/http";
import type { FigureRow, FigureSheet, FigureState } from "../api/types";
import { notify } from "../ui/notices";

/** Largest file that is taken, bytes; the server says the same. */
const LIMIT = 96 * 1024 * 1024;

const key = (hash: string) => ["figure", hash];

/** A figure from elsewhere with what there is to correct. */
export const useFigure = (hash: string | undefined) =>
  useQuery({ queryKey: key(hash ?? ""), queryFn: () => get<FigureState>(`/api/figures/${hash}`), enabled: hash !== undefined, staleTime: Number.POSITIVE_INFINITY, placeholderData: (old) => old });

/** Figures that were brought to this server. */
export const useFigures = () => useQuery({ queryKey: ["figures"], queryFn: () => get<FigureRow[]>("/api/figures") });

const refuse = (error: unknown) => notify(error instanceof Refused ? error.refusal : { item: "Figure", reason: "could not be sent", remedy: "Try again when the server answers" });

/** Brings and corrects figures; each gives the figure as it is stored then, or tells why not. */
export function useFigureWork() {
  const client = useQueryClient();
  const keep = (state: FigureState) => {
    client.setQueryData(key(state.hash), state);
    void client.invalidateQueries({ queryKey: ["figures"] });
    return state;
  };
  return {
    bring: async (file: File): Promise<FigureState | null> => {
      if (file.size > LIMIT) {
        notify({ item: file.name, reason: `is larger than the ${LIMIT >> 20} MB that are read`, remedy: "Bring a lighter version of the figure" });
        return null;
      }
      try {
        return keep(await postFile<FigureState>(`/api/figures?name=${encodeURIComponent(file.name)}`, file));
      } catch (error) {
        refuse(error);
        return null;
      }
    },
    correct: async (hash: string, sheet: FigureSheet): Promise<FigureState | null> => {
      try {
        return keep(await post<FigureState>(`/api/figures/${hash}/sheet`, sheet));
      } catch (error) {
        refuse(error);
        return null;
      }
    },
  };
}
