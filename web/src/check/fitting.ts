import type { FittingHead } from "../api/types";
import { type ClothFrame, decode, type LayoutFrame } from "../stand/frames";

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

async function bytes(path: string): Promise<ArrayBuffer> {
  const response = await fetch(path);
  if (!response.ok) throw new Error(`${path} answers ${response.status}`);
  return response.arrayBuffer();
}

/** Fetches a fitting. */
export async function fetchFitting(id: number): Promise<ShownFitting> {
  const buffer = await bytes(`/api/fittings/${id}/shown`);
  const view = new DataView(buffer);
  const json = view.getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, json))) as FittingHead;
  let from = 4 + json;
  const next = () => {
    const length = view.getUint32(from, true);
    // arrays over a message begin where it begins
    const frame = decode(buffer.slice(from + 4, from + 4 + length));
    from += 4 * Math.ceil((4 + length) / 4);
    return frame;
  };
  const [layout, cloth, body] = [next(), next(), next()];
  if (layout?.kind !== "layout" || cloth?.kind !== "cloth" || body?.kind !== "cloth") throw new Error("the fitting is damaged");
  return { id, head, layout: layout.layout, cloth: cloth.cloth, body: body.cloth, triangles: new Uint32Array(buffer.slice(from, from + 12 * head.body_triangles)) };
}

/** How far each vertex of a fitting lies outside of another, mm. */
export async function fetchDifference(id: number, other: number): Promise<Float32Array> {
  const frame = decode(await bytes(`/api/fittings/${id}/from/${other}`));
  if (frame?.kind !== "map") throw new Error("the difference is damaged");
  return frame.values;
}
