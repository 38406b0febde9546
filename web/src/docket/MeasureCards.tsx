import { useBodies } from "../api/costume";
import type { BodyChoice, MeasureOffer } from "../api/types";
import { useFigures } from "../body/figure";
import { bodyDesk, useBodyOf } from "../body/store";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Slider } from "../ui/Slider";
import { format } from "../ui/units";
import { Card } from "./Card";
import type { DocketProps } from "./props";
import { BringFigure, FigureCards } from "./FigureCards";

const LENGTHS = ["stature", "shoulder-width", "back-waist", "arm-length", "waist-height", "inseam"];
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** A change of size keeps the pose and the contact, a figure from elsewhere has its own. */
function keepPose(body: BodyChoice): BodyChoice {
  if (body.figure) return { preset: body.preset };
  const next = { ...body };
  delete next.set;
  return next;
}

/** The size, and every measure as asked and as the tape reads it on the finished body. */
export function MeasureCards({ state, actions }: DocketProps) {
  const bodies = useBodies();
  const { body } = state.costume;
  const offer = bodies.data?.presets.find((p) => p.key === body.preset);
  const choose = (next: BodyChoice) => actions.edit({ do: "choose-body", body: next });
  const brought = useFigures();
  const figures = (brought.data ?? []).map((f) => [`figure:${f.hash}`, f.name] as const);
  if (body.figure && !brought.data?.some((f) => f.hash === body.figure)) figures.push([`figure:${body.figure}`, "This figure"]);
  const changed = Object.keys(body.set ?? {}).length;
  const plain = () => keepPose(body);
  return (
    <>
      <Card title="Body">
        {bodies.data && (
          <Choice
            label="Body"
            value={body.figure ? `figure:${body.figure}` : body.preset}
            options={[...bodies.data.presets.map((p) => [p.key, p.name] as const), ...figures]}
            onChange={(key) => choose(key.startsWith("figure:") ? { preset: body.preset, figure: key.slice(7) } : { ...keepPose(body), preset: key })}
          />
        )}
        <BringFigure onFigure={(figure) => choose({ preset: body.preset, figure })} />
        <p className="mt-2 text-ink-soft">Another body hangs all pieces afresh at their stations.</p>
      </Card>
      {body.figure && <FigureCards body={body} choose={choose} />}
      {offer && !body.figure && (
        <Card title="Made to measure">
          <div className="mb-1 flex justify-end gap-2 text-[11px] text-ink-soft">
            <span className="w-[86px] text-right">asked</span>
            <span className="w-[52px] text-right">measured</span>
          </div>
          {offer.measures.map((m) => (
            <Measure key={m.key} offer={m} body={body} choose={choose} />
          ))}
          {changed > 0 && (
            <Button className="mt-2 w-full" data-plain-size onClick={() => choose(plain())}>
              Back to {offer.name}
            </Button>
          )}
        </Card>
      )}
    </>
  );
}

/** One measure: asked, as measured on the body, and a slider between its limits. */
function Measure({ offer, body, choose }: { offer: MeasureOffer; body: BodyChoice; choose: (next: BodyChoice) => void }) {
  const unit = useDesk((s) => s.unit);
  const { view, trial } = useBodyOf("view", "trial");
  const { key } = offer;
  const own = view?.head.taken.find((t) => t.key === key);
  const asked = (trial ?? body).set?.[key] ?? offer.mm;
  const off = own?.asked == null ? 0 : Math.abs(own.measured - own.asked);
  // the tape goes under the breasts, where the finished body shows nothing
  const hidden = key === "underbust";
  const tone = hidden || off <= (LENGTHS.includes(key) ? 5 : 3) ? "text-moss" : "text-amber";
  const asking = (mm: number): BodyChoice => ({ ...body, set: { ...body.set, [key]: Math.round(mm * 10) / 10 } });
  const settle = (mm: number) => {
    choose(asking(mm));
    bodyDesk.settle(asking(mm));
  };
  return (
    <div data-measure={key} title={`${format(offer.low, unit, false)} to ${format(offer.high, unit)}`} className="pb-1">
      <div className="flex items-center gap-2">
        <div className="flex-1">
          <NumberField label={capital(offer.name)} value={asked} unit={unit} step={5} narrow onChange={settle} />
        </div>
        <span className={`figures w-[52px] text-right ${tone}`} data-measured={own?.measured}>
          {hidden ? "–" : own ? format(own.measured, unit, false) : "…"}
        </span>
      </div>
      <Slider label={`${capital(offer.name)}, slider`} value={asked} low={offer.low} high={offer.high} step={1} onMove={(mm) => bodyDesk.attempt(asking(mm), true)} onDone={settle} onCancel={() => bodyDesk.attempt(null)} />
    </div>
  );
}
