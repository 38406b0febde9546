import { useEffect, useRef, useState } from "react";
import { evaluate, format } from "./units";
import type { Unit } from "./units";

interface Props {
  label: string;
  /** mm, or degrees when `plain`. */
  value: number;
  unit: Unit;
  plain?: string;
  step?: number;
  narrow?: boolean;
  onChange: (value: number) => void;
}

/** A number with unit: takes arithmetic and other units, arrow keys step it, Escape restores it. */
export function NumberField({ label, value, unit, plain, step, narrow = false, onChange }: Props) {
  const shown = plain === undefined ? format(value, unit, false) : String(Math.abs(value) < 10 ? Number(value.toPrecision(3)) : Math.round(value * 10) / 10);
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  const sent = useRef<{ from: number; to: number } | null>(null);
  const read = (source: string) => evaluate(source, plain === undefined ? unit : "plain");
  const finish = () => {
    // what was not touched is not written back: the text is rounded, the value is not
    if (text === shown) return;
    const result = read(text);
    if (result === null || Math.abs(result - value) < 1e-6) return setText(shown);
    // a second Enter before the answer is no second step
    if (sent.current?.from === value && sent.current.to === result) return;
    sent.current = { from: value, to: result };
    onChange(result);
  };
  const bump = (by: number) => {
    const result = ((text === shown ? null : read(text)) ?? value) + by * (step ?? (plain === undefined ? 5 : 5));
    onChange(result);
  };
  return (
    <label className="flex items-center justify-between gap-2 py-0.5 text-ink-soft">
      {label}
      <span className={`flex h-8 shrink-0 items-center ${narrow ? "w-[86px]" : "w-[104px]"} rounded-md border border-line bg-white pr-2 focus-within:border-ink`}>
        <input
          aria-label={label}
          className="figures w-full bg-transparent px-2 text-right text-ink outline-none"
          value={text}
          onChange={(e) => {
            sent.current = null;
            setText(e.target.value);
          }}
          onBlur={finish}
          onKeyDown={(e) => {
            if (e.key === "Enter") finish();
            if (e.key === "Escape") setText(shown);
            if (e.key === "ArrowUp") bump(1);
            if (e.key === "ArrowDown") bump(-1);
            e.stopPropagation();
          }}
        />
        <span className="figures text-ink-soft">{plain ?? unit}</span>
      </span>
    </label>
  );
}
