import type { BodyShown } from "../api/types";

/** A body as the stand draws it; positions in m. */
export interface BodyView {
  head: BodyShown;
  positions: Float32Array;
  normals: Float32Array;
  triangles: Uint32Array;
  /** The same vertices in the neutral pose. */
  neutral: Float32Array;
  /** Index of the part of every vertex. */
  parts: Uint8Array;
}

/** Decodes the answer of the body request; the layout is described in docs/formats.md. */
export function bodyView(buffer: ArrayBuffer): BodyView {
  const length = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as BodyShown;
  let at = 4 + length;
  const floats = () => {
    const values = new Float32Array(buffer, at, head.vertices * 3);
    at += values.byteLength;
    return values;
  };
  const positions = floats();
  const normals = floats();
  const triangles = new Uint32Array(buffer, at, head.triangles * 3);
  at += triangles.byteLength;
  const neutral = head.posed ? floats() : positions;
  return { head, positions, normals, triangles, neutral, parts: new Uint8Array(buffer, at, head.vertices) };
}
