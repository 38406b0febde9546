import { useQuery } from "@tanstack/react-query";
import { get, postFile } from "./http";
import type { Fabric, MotifState, Print, PrintPlace, ScanState } from "./types";

/** Where a print is drawn as a picture of its whole repeat. */
export function printAddress(fabric: Fabric): string | null {
  return fabric.print ? `/api/prints/tile?base=${encodeURIComponent(fabric.colour)}&print=${encodeURIComponent(JSON.stringify(fabric.print))}` : null;
}

/** Width and height of what is repeated as a whole, mm. */
export function printTile(print: Print): [number, number] {
  return [print.repeat * (print.half_drop && !print.once ? 2 : 1), print.height ?? print.repeat];
}

/** Degrees by which a print is turned on a piece, counter-clockwise. */
export const printTurn = (print: Print, grain: number, place: PrintPlace | undefined) => grain - 90 + (print.turn ?? 0) + (place?.turn ?? 0);

/** The motifs that ship. */
export const useMotifs = () => useQuery({ queryKey: ["motifs"], queryFn: () => get<MotifState[]>("/api/motifs"), staleTime: Number.POSITIVE_INFINITY });

/** Stores a picture that is to be printed. */
export const bringPrint = (file: File) => postFile<ScanState>(`/api/scans?name=${encodeURIComponent(file.name)}`, file);
