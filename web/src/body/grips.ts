import { useQuery } from "@tanstack/react-query";
import { get } from "../api/http";
import type { CostumeState, Edit, GripShown } from "../api/types";
import { selectedPiece, useDesk } from "../desk/store";
import type { Mark } from "./landmarks";
import type { Point3 } from "./point";

const nothing: GripShown[] = [];

/** Where the block of the selected piece can be dragged on the stand: neck, sleeve, leg and hem. */
export function useGrips(state: CostumeState): GripShown[] {
  const chosen = useDesk((s) => (s.stage === "draft" ? selectedPiece(s.selection) : null));
  const owner = state.costume.pieces.find((p) => p.id === chosen);
  const drawn = owner && typeof owner.shape === "object" && "twin" in owner.shape ? owner.shape.twin.of : chosen;
  const block = state.costume.blocks?.find((b) => drawn !== null && b.pieces.includes(drawn));
  const query = useQuery({
    queryKey: ["grips", state.id, state.step],
    queryFn: () => get<GripShown[]>(`/api/costumes/${state.id}/grips`),
    enabled: block !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (old) => old,
  });
  return block && query.data ? query.data.filter((g) => g.block === block.id) : nothing;
}

const keyOf = (g: GripShown) => `${g.block}:${g.key}`;

/** A grip as it is drawn on the stand. */
export const markOf = (g: GripShown): Mark => ({ key: keyOf(g), name: g.name, at: g.at, axis: g.axis });

/** What a grip that was dragged to a place (mm) asks for. */
export function steered(state: CostumeState, grips: GripShown[], key: string, at: Point3): Edit | null {
  const grip = grips.find((g) => keyOf(g) === key);
  const block = state.costume.blocks?.find((b) => b.id === grip?.block);
  if (!grip || !block) return null;
  const dot = (a: number[], b: number[]) => a.reduce((sum, v, k) => sum + v * (b[k] ?? 0), 0);
  const by = dot(at.map((v, k) => v - (grip.at[k] ?? 0)), grip.axis) / dot(grip.axis, grip.axis);
  const value = Math.min(grip.high, Math.max(grip.low, Math.round(grip.value + by)));
  return { do: "change-block", block: block.id, values: { ...block.values, [grip.key]: value } };
}
