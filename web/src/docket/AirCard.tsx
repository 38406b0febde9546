import type { Air } from "../api/types";
import { type DrapeSocket, useDrape } from "../stand/socket";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Slider } from "../ui/Slider";
import { Compass, forceOf, forceWord, SIDES } from "../ui/Wind";
import { Card } from "./Card";
import { within } from "../ui/within";

/** Wind, weight and calm on the stand; they hold while this costume is open. */
export function AirCard({ socket }: { socket: DrapeSocket }) {
  const air = useDrape((s) => s.status?.air);
  if (!air) return null;
  const change = (part: Partial<Air>) => socket.send({ do: "air", air: { ...air, ...part } });
  const force = forceOf(air.speed);
  return (
    <Card title="Air and weight">
      <div className="flex items-center gap-3">
        <Compass from={air.from} strength={air.speed} onTurn={(from) => change({ from })} />
        <div className="flex-1">
          <div className="font-medium" data-beaufort={force}>
            {forceWord(air.speed)}
          </div>
          <NumberField label="Speed" value={air.speed} unit="cm" plain="m/s" step={0.5} narrow onChange={(v) => change({ speed: within(v, 0, 40) })} />
        </div>
      </div>
      <Choice label="From" value={String(Math.round(air.from))} none={`${Math.round(air.from)}°`} options={SIDES} onChange={(v) => change({ from: Number(v) })} />
      <NumberField label="Gusts" value={air.gusts * 100} unit="cm" plain="%" step={10} narrow onChange={(v) => change({ gusts: within(v, 0, 100) / 100 })} />
      <NumberField label="Seed of the gusts" value={air.seed} unit="cm" plain="" step={1} narrow onChange={(v) => change({ seed: Math.round(within(v, 0, 9999)) })} />
      <NumberField label="Gravity" value={air.gravity} unit="cm" plain="×" step={0.1} narrow onChange={(v) => change({ gravity: within(v, 0, 5) })} />
      <div className="mt-1.5 flex justify-between text-[11px] text-ink-soft">
        <span>lively</span>
        <span>calm</span>
      </div>
      <Slider label="Calm" value={air.calm} low={-0.9} high={10} step={0.1} onMove={() => undefined} onDone={(calm) => change({ calm })} />
    </Card>
  );
}
