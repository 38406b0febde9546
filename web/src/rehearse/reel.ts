import type { RehearsalHead } from "../api/types";
import { type ClothFrame, decode, type LayoutFrame } from "../stand/frames";

/** What stays the same in all frames of a rehearsal. */
export interface ReelLayout {
  head: RehearsalHead;
  cloth: LayoutFrame;
  /** Of the body. */
  triangles: Uint32Array;
}

/** One frame: cloth, body, and of each prop the twelve numbers of its place, column by column. */
export interface ReelFrame {
  cloth: ClothFrame;
  body: ClothFrame;
  props: Float32Array;
}

/** Most frames that are kept ready, and most that are asked for at once. */
const KEPT = 600;
const ABREAST = 3;

async function bytes(path: string): Promise<ArrayBuffer> {
  const response = await fetch(path);
  if (!response.ok) throw new Error(`${path} answers ${response.status}`);
  return response.arrayBuffer();
}

/** A run of bytes of its own: arrays over it begin where it begins. */
const part = (buffer: ArrayBuffer, from: number, length: number) => buffer.slice(from, from + length);

/** The frames of one rehearsal, fetched as they are wanted and kept for the next time. */
export class Reel {
  private readonly frames = new Map<number, ReelFrame>();
  private readonly under = new Set<number>();
  private wanted: number[] = [];

  constructor(
    readonly id: number,
    private readonly arrived: (frame: number) => void,
  ) {}

  async layout(): Promise<ReelLayout> {
    const buffer = await bytes(`/api/rehearsals/${this.id}/layout`);
    const view = new DataView(buffer);
    const json = view.getUint32(0, true);
    const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, json))) as RehearsalHead;
    const length = view.getUint32(4 + json, true);
    const frame = decode(part(buffer, 8 + json, length));
    if (frame?.kind !== "layout") throw new Error("the rehearsal has no layout");
    return { head, cloth: frame.layout, triangles: new Uint32Array(part(buffer, 8 + json + length, 12 * head.body_triangles)) };
  }

  /** A frame if it is here. */
  at(frame: number): ReelFrame | undefined {
    return this.frames.get(frame);
  }

  get ready(): number {
    return this.frames.size;
  }

  /** Asks for frames in this order; what was asked for before and is not on its way is forgotten. */
  want(frames: number[]) {
    this.wanted = frames.filter((f) => !this.frames.has(f) && !this.under.has(f));
    this.pull();
  }

  private pull() {
    while (this.under.size < ABREAST) {
      const next = this.wanted.shift();
      if (next === undefined) return;
      this.under.add(next);
      void this.fetch(next).finally(() => {
        this.under.delete(next);
        this.pull();
      });
    }
  }

  private async fetch(frame: number) {
    try {
      const buffer = await bytes(`/api/rehearsals/${this.id}/frames/${frame}`);
      const view = new DataView(buffer);
      let from = 0;
      const message = () => {
        const length = view.getUint32(from, true);
        const found = decode(part(buffer, from + 4, length));
        from += 4 * Math.ceil((4 + length) / 4);
        if (found?.kind !== "cloth") throw new Error("the frame is damaged");
        return found.cloth;
      };
      const [cloth, body] = [message(), message()];
      this.frames.set(frame, { cloth, body, props: new Float32Array(part(buffer, from, buffer.byteLength - from)) });
      // the one that was fetched longest ago gives way
      const [oldest] = this.frames.keys();
      if (this.frames.size > KEPT && oldest !== undefined) this.frames.delete(oldest);
      this.arrived(frame);
    } catch {
      // it is asked for again when it is wanted again
    }
  }
}
