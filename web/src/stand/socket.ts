import { create } from "zustand";
import { entriesOf } from "../ui/pick";
import type { CostumeActions } from "../api/costume";
import type { Command, Event as DrapeEvent, PieceSpan, SeamId, Status } from "../api/types";
import { trials } from "../desk/trial";
import { notify } from "../ui/notices";
import { decode, type Frame } from "./frames";

/** What the last check found. */
export type Checked = Extract<DrapeEvent, { is: "checked" }>;

interface DrapeState {
  connected: boolean;
  status: Status | null;
  spans: PieceSpan[];
  /** The seams by their numbers in the layout; twins' seams have the id of their partner. */
  sewn: SeamId[];
  /** Vertices that are held to the body. */
  held: number[];
  generation: number;
  checked: Checked | null;
  kept: number;
  /** Frames received in the last second. */
  rate: number;
}

const fresh: DrapeState = { connected: false, status: null, spans: [], sewn: [], held: [], generation: 0, checked: null, kept: 0, rate: 0 };

export const useDrape = create<DrapeState>(() => fresh);

export const useDrapeOf = entriesOf(useDrape);

type FrameListener = (frame: Frame) => void;

/** The connection to the live drape of one costume; reconnects by itself. */
export class DrapeSocket {
  private socket: WebSocket | null = null;
  private closed = false;
  private listeners = new Set<FrameListener>();
  private last: Partial<Record<Frame["kind"], Frame>> = {};
  private arrivals: number[] = [];
  private ratedAt = 0;

  constructor(
    private readonly id: number,
    private readonly costume: Pick<CostumeActions, "heard" | "reopened">,
  ) {
    useDrape.setState(fresh);
    this.connect();
  }

  private connect() {
    const socket = new WebSocket(`ws://${window.location.host}/api/costumes/${this.id}/drape`);
    socket.binaryType = "arraybuffer";
    socket.onopen = () => {
      useDrape.setState({ connected: true });
      this.costume.reopened();
      trials.connect((command) => socket.send(JSON.stringify(command)));
    };
    socket.onclose = () => {
      if (this.closed) return;
      trials.connect(null);
      useDrape.setState({ connected: false });
      window.setTimeout(() => !this.closed && this.connect(), 1500);
    };
    socket.onmessage = (message: MessageEvent<string | ArrayBuffer>) => {
      if (typeof message.data === "string") this.hear(JSON.parse(message.data) as DrapeEvent);
      else this.show(decode(message.data));
    };
    this.socket = socket;
  }

  private hear(event: DrapeEvent) {
    switch (event.is) {
      case "status":
        useDrape.setState({ status: event.status });
        break;
      case "layout":
        useDrape.setState({ spans: event.pieces, sewn: event.seams, held: event.held, generation: event.generation, checked: null });
        break;
      case "checked":
        useDrape.setState({ checked: event });
        break;
      case "kept":
        useDrape.setState((s) => ({ kept: s.kept + 1 }));
        notify({ item: "Fitting", reason: "kept", remedy: "" }, { good: true });
        break;
      case "refused":
        notify(event.refusal);
        break;
      case "trial":
        trials.hear(event);
        break;
      case "changed":
        this.costume.heard(event.change);
        break;
    }
  }

  private show(frame: Frame | null) {
    if (!frame) return;
    if (frame.kind === "layout") this.last = {};
    this.last[frame.kind] = frame;
    if (frame.kind === "cloth") {
      const now = performance.now();
      this.arrivals = [...this.arrivals.filter((t) => now - t < 1000), now];
      if (now - this.ratedAt > 500) {
        this.ratedAt = now;
        useDrape.setState({ rate: this.arrivals.length });
      }
    }
    for (const listener of this.listeners) listener(frame);
  }

  /** Calls back for every frame, starting with the newest of each kind. */
  listen(listener: FrameListener): () => void {
    this.listeners.add(listener);
    for (const kind of ["layout", "cloth", "map"] as const) {
      const frame = this.last[kind];
      if (frame) listener(frame);
    }
    return () => this.listeners.delete(listener);
  }

  send(command: Command) {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(command));
    else notify({ item: "Drape", reason: "the server does not answer", remedy: "It is tried again by itself" });
  }

  close() {
    this.closed = true;
    this.socket?.close();
  }
}
