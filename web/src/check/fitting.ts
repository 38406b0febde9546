import type { FittingHead } from "../api/types";
import { Answer, type ClothFrame, decode, fetchBytes, type LayoutFrame } from "../stand/frames";

/** A kept drape with its body, ready to be drawn. */
export interface ShownFitting {
  id: number;
  head: FittingHead;
  layout: LayoutFrame;
  cloth: ClothFrame;
  body: ClothFrame;
  /** Of the body. */
  triangles: Uint32Array;
}

/** Fetches a fitting. */
export async function fetchFitting(id: number): Promise<ShownFitting> {
  const answer = new Answer(await fetchBytes(`/api/fittings/${id}/shown`));
  const head = answer.head<FittingHead>();
  const [layout, cloth, body] = [answer.message(), answer.message(), answer.message()];
  if (layout?.kind !== "layout" || cloth?.kind !== "cloth" || body?.kind !== "cloth") throw new Error("the fitting is damaged");
  return { id, head, layout: layout.layout, cloth: cloth.cloth, body: body.cloth, triangles: new Uint32Array(answer.rest(), 0, 3 * head.body_triangles) };
}

/** How far each vertex of a fitting lies outside of another, mm. */
export async function fetchDifference(id: number, other: number): Promise<Float32Array> {
  const frame = decode(await fetchBytes(`/api/fittings/${id}/from/${other}`));
  if (frame?.kind !== "map") throw new Error("the difference is damaged");
  return frame.values;
}
