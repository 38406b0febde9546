import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { post } from "../api/http";
import type { Fabric, Sample } from "../api/types";
import { linePath } from "../ui/linePath";
import { Row } from "./Card";

const useSample = (swatch: string, own: Fabric["own"]) =>
  useQuery({
    queryKey: ["sample", swatch, own ?? {}],
    queryFn: () => post<Sample>("/api/samples", { swatch, own: own ?? {} }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    retry: false,
  });

/** The cloth in the laboratory, simulated: its draped disc from above and its hanging strip, beside those of its swatch. */
export function SamplePicture({ fabric }: { fabric: Fabric }) {
  const changed = Object.keys(fabric.own ?? {}).length > 0;
  const own = useSample(fabric.swatch, fabric.own);
  const base = useSample(fabric.swatch, {});
  const sample = own.data;
  const before = changed ? base.data : undefined;
  // as high as the picture, so that nothing below moves under the pointer when it comes
  if (!sample) return <p className="my-1 h-[176px] py-2 text-ink-soft text-[12px]">{own.isError ? "This cloth cannot be tested." : "A sample hangs in the laboratory…"}</p>;
  // strips are drawn as long as they hang, their stretch ten times enlarged
  const most = Math.max(...sample.strip, ...(before?.strip ?? []), 1);
  const strip = (k: 0 | 1, s: Sample) => 56 + (34 * (s.strip[k] ?? 0)) / most;
  return (
    <figure className={`my-1 ${own.isFetching ? "opacity-60" : ""}`} data-sample={sample.drape.toFixed(0)}>
      <div className="flex items-end justify-around">
      <svg viewBox="-155 -155 310 310" className="h-[92px] w-[92px] shrink-0" role="img" aria-label="A disc of 30 cm draped over a stand of 18 cm, from above">
        <circle r={150} className="fill-none stroke-edge" strokeWidth={2} />
        <path d={linePath(sample.outline)} fill={fabric.colour} className="stroke-ink" strokeWidth={3} />
        {before && <path d={linePath(before.outline)} className="fill-none stroke-card" strokeWidth={4} strokeDasharray="10 7" />}
        <circle r={90} className="fill-none stroke-ink" strokeWidth={1.5} strokeOpacity={0.4} />
      </svg>
      <svg viewBox="0 0 44 96" className="h-[92px] w-[42px] shrink-0" role="img" aria-label="Strips hanging along warp and weft">
        <line x1={0} x2={44} y1={2} y2={2} className="stroke-ink" strokeWidth={2.5} />
        {([0, 1] as const).map((k) => (
          <g key={k}>
            <rect x={5 + 20 * k} y={3} width={13} height={strip(k, sample)} fill={fabric.colour} className="stroke-ink" />
            {before && <line x1={3 + 20 * k} x2={20 + 20 * k} y1={3 + strip(k, before)} y2={3 + strip(k, before)} className="stroke-ink-soft" strokeWidth={1.5} strokeDasharray="3 2" />}
          </g>
        ))}
      </svg>
      </div>
      <figcaption className="mt-1">
        <Figure name="Drapes to" value={`${sample.drape.toFixed(0)} %`} base={before && `${before.drape.toFixed(0)} %`} />
        <Figure name="Bending length" value={`${sample.bending_length.toFixed(0)} mm`} base={before && `${before.bending_length.toFixed(0)} mm`} />
        <Figure name="1 m sags" value={`${sags(sample)} mm`} base={before && sags(before)} />
      </figcaption>
    </figure>
  );
}

const sags = (s: Sample) => s.strip.map((mm) => mm.toFixed(1)).join(" / ");

/** A figure of the cloth, and that of its swatch where it differs. */
function Figure({ name, value, base }: { name: string; value: string; base: string | undefined }) {
  return (
    <Row
      name={name}
      value={
        <>
          {base && <span className="mr-2 text-ink-soft text-[11px]">swatch {base}</span>}
          {value}
        </>
      }
    />
  );
}
