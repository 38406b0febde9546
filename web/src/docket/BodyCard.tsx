import { useQuery } from "@tanstack/react-query";
import { bodyQuery, useBodies } from "../api/costume";
import { get } from "../api/http";
import type { BodyChoice, TakenMeasure } from "../api/types";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { format } from "../ui/units";
import { Card } from "./Card";
import type { DocketProps } from "./Docket";

const LENGTHS = ["stature", "shoulder-width", "back-waist", "arm-length", "waist-height", "inseam"];
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** The body on the stand: its size, and every measure as asked and as the tape reads it on the finished body. */
export function BodyCard({ state, actions }: DocketProps) {
  const bodies = useBodies();
  const { body } = state.costume;
  const offer = bodies.data?.presets.find((p) => p.key === body.preset);
  const choose = (next: BodyChoice) => actions.edit({ do: "choose-body", body: next });
  const changed = Object.keys(body.set ?? {}).length;
  return (
    <>
      <Card title="Body">
        {bodies.data && <Choice label="Size" value={body.preset} options={bodies.data.presets.map((p) => [p.key, p.name] as const)} onChange={(preset) => choose({ preset })} />}
        <p className="mt-2 text-ink-soft">Another body hangs all pieces afresh at their stations.</p>
      </Card>
      {offer && (
        <Card title="Made to measure">
          <div className="mb-1 flex justify-end gap-2 text-[11px] text-ink-soft">
            <span className="w-[86px] text-right">asked</span>
            <span className="w-[52px] text-right">measured</span>
          </div>
          <Sheet body={body} choose={choose} measures={offer.measures} />
          {changed > 0 && (
            <Button className="mt-2 w-full" data-plain-size onClick={() => choose({ preset: body.preset })}>
              Back to {offer.name}
            </Button>
          )}
        </Card>
      )}
    </>
  );
}

interface SheetProps {
  body: BodyChoice;
  choose: (next: BodyChoice) => void;
  measures: { key: string; name: string; mm: number; low: number; high: number }[];
}

function Sheet({ body, choose, measures }: SheetProps) {
  const unit = useDesk((s) => s.unit);
  const path = `/api/bodies/${body.preset}/measures${bodyQuery(body)}`;
  const taken = useQuery({ queryKey: ["measures", path], queryFn: () => get<TakenMeasure[]>(path), staleTime: Number.POSITIVE_INFINITY });
  return measures.map((m) => {
    const own = taken.data?.find((t) => t.key === m.key);
    const asked = body.set?.[m.key] ?? own?.asked ?? m.mm;
    const off = own ? Math.abs(own.measured - own.asked) : 0;
    // the tape goes under the breasts, where the finished body shows nothing
    const tone = m.key === "underbust" || off <= (LENGTHS.includes(m.key) ? 5 : 3) ? "text-moss" : "text-amber";
    return (
      <div key={m.key} className="flex items-center gap-2" data-measure={m.key} title={`${format(m.low, unit, false)} to ${format(m.high, unit)}`}>
        <div className="flex-1">
          <NumberField label={capital(m.name)} value={asked} unit={unit} step={5} narrow onChange={(mm) => choose({ preset: body.preset, set: { ...body.set, [m.key]: mm } })} />
        </div>
        <span className={`figures w-[52px] text-right ${tone}`} data-measured={own?.measured}>
          {m.key === "underbust" ? "–" : own ? format(own.measured, unit, false) : "…"}
        </span>
      </div>
    );
  });
}
