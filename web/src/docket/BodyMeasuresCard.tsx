import { useMeasures } from "../body/measures";
import { useDesk } from "../desk/store";
import { format } from "../ui/units";
import { Card, Row } from "./Card";
import type { DocketProps } from "./props";

/** In the order in which a cutter asks for them. */
const SHOWN = ["bust", "waist", "hip", "neck", "shoulder-width", "back-waist", "arm-length", "upper-arm", "wrist", "waist-height", "inseam", "thigh"];

/** The body's measures beside the table. */
export function BodyMeasuresCard({ state }: DocketProps) {
  const unit = useDesk((s) => s.unit);
  const measures = useMeasures(state.costume.body);
  if (measures.size === 0) return null;
  return (
    <Card title="Measures of the body">
      {SHOWN.map((key) => {
        const m = measures.get(key);
        return m && <Row key={key} name={m.name.slice(0, 1).toUpperCase() + m.name.slice(1)} value={format(m.mm, unit)} />;
      })}
    </Card>
  );
}
