import { Slider as Radix } from "radix-ui";
import { useEffect, useRef, useState } from "react";

interface Props {
  label: string;
  value: number;
  low: number;
  high: number;
  step: number;
  /** While it moves, and once more when it is let go. */
  onMove: (value: number) => void;
  onDone: (value: number) => void;
  /** It was moved and not let go: by Escape, or because the pointer was lost. */
  onCancel?: () => void;
}

/** How long the place of the thumb is kept for a value that is on its way, ms. */
const ON_ITS_WAY = 1500;

/** A value within limits, on a thin track. */
export function Slider({ label, value, low, high, step, onMove, onDone, onCancel }: Props) {
  const [own, setOwn] = useState<number | null>(null);
  const moving = useRef(false);
  useEffect(() => {
    if (!moving.current) setOwn(null);
  }, [value]);
  useEffect(() => {
    if (own === null || moving.current) return;
    const later = window.setTimeout(() => setOwn(null), ON_ITS_WAY);
    return () => window.clearTimeout(later);
  }, [own]);
  const move = (v: number) => {
    moving.current = true;
    setOwn(v);
    onMove(v);
  };
  const done = (v: number) => {
    moving.current = false;
    setOwn(v);
    onDone(v);
  };
  const cancel = () => {
    if (!moving.current) return;
    moving.current = false;
    setOwn(null);
    onCancel?.();
  };
  return (
    <Radix.Root
      className="relative flex h-4 w-full touch-none select-none items-center"
      value={[own ?? value]}
      min={low}
      max={high}
      step={step}
      onValueChange={([v]) => v !== undefined && move(v)}
      onValueCommit={([v]) => v !== undefined && done(v)}
      onPointerCancel={cancel}
      onKeyDown={(e) => e.key === "Escape" && cancel()}
    >
      <Radix.Track className="relative h-[3px] grow rounded-full bg-edge">
        <Radix.Range className="absolute h-full rounded-full bg-line" />
      </Radix.Track>
      <Radix.Thumb aria-label={label} className="block h-3.5 w-3.5 rounded-full border-2 border-ink bg-card hover:bg-tape" />
    </Radix.Root>
  );
}
