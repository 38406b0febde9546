import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Plan, WindKey } from "../api/types";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { Compass, forceWord } from "../ui/Wind";
import { within } from "../ui/within";

/** As many as a plan may have. */
const MOST = 200;
const WIDTH = 240;
const HEIGHT = 56;

/** The wind along the motion: keys at times, each with its strength and side; between two it changes evenly. */
export function WindTrack({ plan, set }: { plan: Plan; set: (part: Partial<Plan>) => void }) {
  const [picked, setPicked] = useState(0);
  const keys = plan.wind;
  const at = Math.min(picked, keys.length - 1);
  const key = keys[at];
  const write = (all: WindKey[], shown: WindKey | undefined) => {
    const sorted = [...all].sort((a, b) => a.time - b.time);
    set({ wind: sorted });
    setPicked(Math.max(0, shown ? sorted.indexOf(shown) : at - 1));
  };
  const change = (part: Partial<WindKey>) => {
    if (!key) return;
    const next = { ...key, ...part };
    // no two at one time
    if (part.time !== undefined && keys.some((k, n) => n !== at && Math.abs(k.time - next.time) < 0.01)) return;
    write(keys.map((k, n) => (n === at ? next : k)), next);
  };
  const add = () => {
    const last = keys.at(-1);
    const next = last ? { ...last, time: last.time + 1 } : { time: 0, speed: 4, from: 0 };
    write([...keys, next], next);
  };
  return (
    <div className="mt-1.5 border-edge border-t pt-1.5" data-wind-track={keys.length}>
      <div className="flex items-center justify-between">
        <span className="text-ink-soft">{keys.length === 0 ? "Calm all along" : "Wind over time"}</span>
        <Button kind="quiet" className="px-2" disabled={keys.length >= MOST} data-wind-add onClick={add}>
          <Plus size={14} /> {keys.length === 0 ? "Wind" : "Change"}
        </Button>
      </div>
      {key && (
        <>
          <Track keys={keys} picked={at} onPick={setPicked} />
          <div className="mt-1 flex items-center gap-2">
            <Compass from={key.from} strength={key.speed} onTurn={(from) => change({ from })} />
            <div className="min-w-0 flex-1">
              <NumberField label="At" value={key.time} unit="cm" plain="s" step={0.5} narrow onChange={(v) => change({ time: within(v, -60, 600) })} />
              <NumberField label="Speed" value={key.speed} unit="cm" plain="m/s" step={0.5} narrow onChange={(v) => change({ speed: within(v, 0, 40) })} />
            </div>
          </div>
          <div className="flex items-center justify-between">
            <span className="text-ink-soft">{forceWord(key.speed)}</span>
            <button type="button" aria-label="Take this change of the wind away" className="grid h-7 w-7 place-items-center rounded-md hover:bg-ink/5" onClick={() => write(keys.filter((k) => k !== key), keys[at - 1])}>
              <Trash2 size={13} />
            </button>
          </div>
          <NumberField label="Gusts" value={100 * plan.gusts} unit="cm" plain="%" step={10} narrow onChange={(v) => set({ gusts: within(v, 0, 100) / 100 })} />
          <NumberField label="Seed of the gusts" value={plan.seed} unit="cm" plain="" step={1} narrow onChange={(v) => set({ seed: Math.round(within(v, 0, 9999)) })} />
        </>
      )}
    </div>
  );
}

/** How strong it is, from left to right by time; a knob for every key. */
function Track({ keys, picked, onPick }: { keys: WindKey[]; picked: number; onPick: (k: number) => void }) {
  const first = Math.min(0, ...keys.map((k) => k.time));
  const last = Math.max(first + 2, ...keys.map((k) => k.time));
  const most = Math.max(6, ...keys.map((k) => k.speed));
  const x = (time: number) => 8 + ((time - first) / (last - first)) * (WIDTH - 16);
  const y = (speed: number) => HEIGHT - 9 - (speed / most) * (HEIGHT - 18);
  const ends = [{ ...keys[0], time: first }, ...keys, { ...keys.at(-1), time: last }] as WindKey[];
  const line = ends.map((k, n) => `${n === 0 ? "M" : "L"}${x(k.time).toFixed(1)} ${y(k.speed).toFixed(1)}`).join("");
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="mt-1 block w-full rounded-md border border-edge bg-sheet">
      <title>How strong the wind is along the motion</title>
      <line x1={x(0)} x2={x(0)} y1={4} y2={HEIGHT - 4} className="stroke-edge" />
      <path d={line} className="fill-none stroke-ink" strokeWidth={1.5} />
      {keys.map((k, n) => (
        <circle
          key={k.time}
          cx={x(k.time)}
          cy={y(k.speed)}
          r={n === picked ? 5.5 : 4.5}
          role="button"
          tabIndex={0}
          aria-label={`Wind at ${k.time} s: ${k.speed} m/s`}
          data-wind-key={n}
          className={`cursor-pointer ${n === picked ? "fill-thread" : "fill-ink-soft"}`}
          onClick={() => onPick(n)}
          onKeyDown={(e) => e.key === "Enter" && onPick(n)}
        />
      ))}
    </svg>
  );
}
