/** Decoding of the binary messages of the drape socket; the layout is described in docs/formats.md. */

import type { CheckMap } from "../api/types";
import { MAPS } from "./ramp";

export interface ClothFrame {
  generation: number;
  positions: Float32Array;
  normals: Float32Array;
}

export interface LayoutFrame {
  generation: number;
  vertices: number;
  triangles: Uint32Array;
  /** Flat coordinates in m. */
  flat: Float32Array;
  /** Threads of the seams: both vertices and the number of the seam, three by three. */
  pairs: Uint32Array;
}

export type Frame = { kind: "cloth"; cloth: ClothFrame } | { kind: "layout"; layout: LayoutFrame } | { kind: "map"; generation: number; map: CheckMap; values: Float32Array };

export function decode(buffer: ArrayBuffer): Frame | null {
  const view = new DataView(buffer);
  const [kind, generation, count] = [view.getUint32(0, true), view.getUint32(4, true), view.getUint32(8, true)];
  if (kind === 1) return { kind: "cloth", cloth: cloth(view, generation, count) };
  if (kind === 2) {
    const triangles = view.getUint32(12, true);
    const after = 16 + triangles * 12 + count * 8;
    return {
      kind: "layout",
      layout: { generation, vertices: count, triangles: new Uint32Array(buffer, 16, triangles * 3), flat: new Float32Array(buffer, 16 + triangles * 12, count * 2), pairs: new Uint32Array(buffer, after) },
    };
  }
  if (kind === 3) return { kind: "map", generation, map: MAPS[view.getUint32(12, true)] ?? "tension", values: new Float32Array(buffer, 16, count) };
  return null;
}

function cloth(view: DataView, generation: number, count: number): ClothFrame {
  const float = (k: number) => view.getFloat32(12 + 4 * k, true);
  const low = [float(0), float(1), float(2)] as const;
  const step = [float(3) / 65535, float(4) / 65535, float(5) / 65535] as const;
  const quantised = new Uint16Array(view.buffer, 36, count * 3);
  const packed = new Int16Array(view.buffer, 36 + count * 6, count * 3);
  const positions = new Float32Array(count * 3);
  const normals = new Float32Array(count * 3);
  for (let i = 0; i < count * 3; i += 3) {
    for (let k = 0; k < 3; k++) {
      positions[i + k] = (low[k] ?? 0) + (step[k] ?? 0) * (quantised[i + k] ?? 0);
      normals[i + k] = (packed[i + k] ?? 0) / 32767;
    }
  }
  return { generation, positions, normals };
}

/** A binary answer. */
export async function fetchBytes(path: string): Promise<ArrayBuffer> {
  const response = await fetch(path);
  if (!response.ok) throw new Error(`${path} answers ${response.status}`);
  return response.arrayBuffer();
}

/** Reads a binary answer from its beginning: a JSON head, messages with their lengths before them, and what is left. */
export class Answer {
  private at = 0;
  private readonly view: DataView;

  constructor(private readonly buffer: ArrayBuffer) {
    this.view = new DataView(buffer);
  }

  head<T>(): T {
    const length = this.view.getUint32(0, true);
    this.at = 4 + length;
    return JSON.parse(new TextDecoder().decode(new Uint8Array(this.buffer, 4, length))) as T;
  }

  message(): Frame | null {
    const length = this.view.getUint32(this.at, true);
    // arrays over a message begin where it begins
    const found = decode(this.buffer.slice(this.at + 4, this.at + 4 + length));
    this.at += 4 * Math.ceil((4 + length) / 4);
    return found;
  }

  rest(): ArrayBuffer {
    return this.buffer.slice(this.at);
  }
}
