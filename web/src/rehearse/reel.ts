import type { RehearsalHead } from "../api/types";
import { Answer, type ClothFrame, fetchBytes, type LayoutFrame } from "../stand/frames";

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
    const answer = new Answer(await fetchBytes(`/api/rehearsals/${this.id}/layout`));
    const head = answer.head<RehearsalHead>();
    const frame = answer.message();
    if (frame?.kind !== "layout") throw new Error("the rehearsal has no layout");
    return { head, cloth: frame.layout, triangles: new Uint32Array(answer.rest(), 0, 3 * head.body_triangles) };
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
      const answer = new Answer(await fetchBytes(`/api/rehearsals/${this.id}/frames/${frame}`));
      const [cloth, body] = [answer.message(), answer.message()];
      if (cloth?.kind !== "cloth" || body?.kind !== "cloth") throw new Error("the frame is damaged");
      this.frames.set(frame, { cloth: cloth.cloth, body: body.cloth, props: new Float32Array(answer.rest()) });
      // the one that was fetched longest ago gives way
      const [oldest] = this.frames.keys();
      if (this.frames.size > KEPT && oldest !== undefined) this.frames.delete(oldest);
      this.arrived(frame);
    } catch {
      // it is asked for again when it is wanted again
    }
  }
}
