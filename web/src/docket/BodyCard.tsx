import { useBodies } from "../api/costume";
import { useDesk } from "../desk/store";
import { format } from "../ui/units";
import { Card, Row } from "./Card";
import type { DocketProps } from "./Docket";

const NAMES: Record<string, string> = { stature: "Stature", bust: "Bust or chest", waist: "Waist", hip: "Hip" };

/** The body on the stand and its tape measurements. */
export function BodyCard({ state, actions }: DocketProps) {
  const bodies = useBodies();
  const unit = useDesk((s) => s.unit);
  const chosen = bodies.data?.presets.find((p) => p.key === state.costume.body.preset);
  return (
    <Card title="Body">
      <div className="mb-2 grid grid-cols-2 gap-2" role="radiogroup" aria-label="Body preset">
        {bodies.data?.presets.map((p) => (
          <button
            key={p.key}
            type="button"
            role="radio"
            aria-checked={p.key === state.costume.body.preset}
            data-preset={p.key}
            onClick={() => p.key !== state.costume.body.preset && actions.edit({ do: "choose-body", body: { preset: p.key } })}
            className={`h-9 rounded-md border font-medium ${p.key === state.costume.body.preset ? "border-ink bg-tape" : "border-edge hover:bg-paper"}`}
          >
            {p.name}
          </button>
        ))}
      </div>
      {chosen?.measures.map((m) => (
        <Row key={m.name} name={NAMES[m.name] ?? m.name} value={format(m.mm, unit)} />
      ))}
      <Row name="Pose" value="A-pose" />
      <p className="mt-2 text-ink-soft">Another body hangs all pieces afresh at their stations.</p>
    </Card>
  );
}
