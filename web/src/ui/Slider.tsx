import { Slider as Radix } from "radix-ui";

interface Props {
  label: string;
  value: number;
  low: number;
  high: number;
  step: number;
  /** While it moves, and once more when it is let go. */
  onMove: (value: number) => void;
  onDone: (value: number) => void;
}

/** A value within limits, on a thin track. */
export function Slider({ label, value, low, high, step, onMove, onDone }: Props) {
  return (
    <Radix.Root className="relative flex h-4 w-full touch-none select-none items-center" value={[value]} min={low} max={high} step={step} onValueChange={([v]) => v !== undefined && onMove(v)} onValueCommit={([v]) => v !== undefined && onDone(v)}>
      <Radix.Track className="relative h-[3px] grow rounded-full bg-edge">
        <Radix.Range className="absolute h-full rounded-full bg-tape-line" />
      </Radix.Track>
      <Radix.Thumb aria-label={label} className="block h-3.5 w-3.5 rounded-full border-2 border-ink bg-card hover:bg-tape" />
    </Radix.Root>
  );
}
