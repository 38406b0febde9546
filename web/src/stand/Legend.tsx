import type { CheckMap } from "../api/types";
import { colourOn, SCALES, type Scale } from "./ramp";

/** Steps of the bar's colours. */
const STEPS = 32;

/** The colours of the map on the stand, with their values. */
export const Legend = ({ map }: { map: CheckMap }) => <Bar scale={SCALES[map]} map={map} />;

/** The colours of a scale with their values, in the lower right corner. */
export function Bar({ scale, map = "" }: { scale: Scale; map?: string }) {
  const low = scale.stops[0]?.[0] ?? 0;
  const high = scale.stops[scale.stops.length - 1]?.[0] ?? 1;
  const stops = Array.from({ length: STEPS }, (_, i) => {
    const [r, g, b] = colourOn(scale, low + ((high - low) * i) / (STEPS - 1)).map((v) => Math.round(v * 255));
    return `rgb(${r} ${g} ${b})`;
  });
  return (
    <div className="absolute right-3 bottom-4 w-[210px] rounded-lg border border-edge bg-card/95 px-3 py-2" data-legend={map}>
      <div className="mb-1 flex justify-between gap-2 text-[11px] text-ink-soft">
        <span>{scale.ends[0]}</span>
        <span className="font-semibold text-ink">{scale.name}</span>
        <span>{scale.ends[1]}</span>
      </div>
      <div className="h-3 rounded" style={{ background: `linear-gradient(90deg, ${stops.join(",")})` }} />
      <div className="figures relative mt-1 h-4 text-[11px]">
        {scale.marks.map((m) => (
          <span key={m} className="absolute -translate-x-1/2" style={{ left: `${6 + (88 * (m - low)) / (high - low)}%` }}>
            {scale.write(m)}
          </span>
        ))}
      </div>
    </div>
  );
}
