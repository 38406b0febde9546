/** Farthest that a click may shake, px. */
export const THRESHOLD = 4;

interface At {
  pointerId: number;
  clientX: number;
  clientY: number;
}

/**
 * One press of one pointer: a click until it has gone farther than a hand shakes, a drag from then on. Who holds it drops
 * it when the pointer is lost, a second finger comes down or Escape is pressed, and nothing has happened then.
 */
export class Press {
  private dragging = false;

  constructor(private readonly start: At) {}

  /** Whether an event belongs to this press. */
  owns(e: At): boolean {
    return e.pointerId === this.start.pointerId;
  }

  /** Takes note of a movement; whether it is a drag by now. */
  moved(e: At): boolean {
    this.dragging ||= Math.hypot(e.clientX - this.start.clientX, e.clientY - this.start.clientY) > THRESHOLD;
    return this.dragging;
  }

  get isDrag(): boolean {
    return this.dragging;
  }
}
