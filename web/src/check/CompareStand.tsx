import { useQueries } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useSwatches } from "../api/costume";
import type { Swatch } from "../api/types";
import { Bar } from "../stand/Legend";
import { DIFFERENCE } from "../stand/ramp";
import { CompareScene } from "./CompareScene";
import { fetchDifference, fetchFitting, type ShownFitting } from "./fitting";
import { useCheck } from "./store";

const VIEWS = [
  ["Front", [0, 0.04, 1]],
  ["Side", [1, 0.04, 0]],
  ["Back", [0, 0.04, -1]],
] as const;

/** The fittings that are chosen, in the order of their choice; those that are not here yet are left out. */
export function useCompared(): ShownFitting[] {
  const compared = useCheck((s) => s.compared);
  const found = useQueries({ queries: compared.map((id) => ({ queryKey: ["shown-fitting", id], queryFn: () => fetchFitting(id), staleTime: Number.POSITIVE_INFINITY })) });
  return found.flatMap((f) => (f.data ? [f.data] : []));
}

/** Two to four fittings under one camera, and a picture beside them. */
export function CompareStand() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [scene, setScene] = useState<CompareScene | null>(null);
  const mode = useCheck((s) => s.mode);
  const reference = useCheck((s) => s.reference);
  const under = useCheck((s) => s.under) && reference !== null;
  const cover = useCheck((s) => s.cover);
  const lens = useCheck((s) => s.lens);
  const fittings = useCompared();
  const book = useSwatches();
  const swatches = useMemo(() => new Map<string, Swatch>((book.data?.swatches ?? []).map((s) => [s.key, s])), [book.data]);
  useEffect(() => {
    const frame = canvas.current?.parentElement;
    if (!canvas.current || !frame) return;
    const made = new CompareScene(canvas.current);
    setScene(made);
    const observer = new ResizeObserver(() => made.resize(frame.clientWidth, frame.clientHeight));
    observer.observe(frame);
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, []);
  const shown = fittings.map((f) => f.id).join();
  useEffect(() => scene?.show(fittings, swatches), [scene, shown, swatches]);
  useEffect(() => scene?.setMode(mode), [scene, mode, shown]);
  useEffect(() => scene?.setLens(lens), [scene, lens]);
  useEffect(() => {
    const [first, ...others] = fittings;
    if (mode !== "difference" || !first) return;
    let gone = false;
    others.forEach((f, k) => void fetchDifference(f.id, first.id).then((values) => !gone && scene?.setDifference(k + 1, values)));
    return () => {
      gone = true;
    };
  }, [scene, mode, shown]);
  return (
    <section className="relative isolate flex h-full overflow-hidden bg-sheet" aria-label="Fittings side by side">
      {reference && !under && <img src={reference} alt="To compare with" data-reference="beside" className="h-full w-1/4 shrink-0 border-line border-r object-contain" />}
      <div className="relative min-w-0 flex-1">
        {reference && under && <img src={reference} alt="To compare with" data-reference="under" className="absolute inset-0 h-full w-full object-contain" />}
        <canvas ref={canvas} data-compare className="absolute inset-0 h-full w-full" style={under ? { opacity: cover } : undefined} />
        <div className="pointer-events-none absolute inset-x-0 top-3 flex">
          {mode === "over" ? (
            <h2 className="flex-1 text-center font-heading font-semibold text-[13px] text-ink-soft">{fittings.map((f) => f.head.name).join(" · ")}</h2>
          ) : (
            fittings.map((f) => (
              <h2 key={f.id} className="min-w-0 flex-1 truncate px-3 text-center font-heading font-semibold text-[13px] text-ink-soft">
                {f.head.name}
              </h2>
            ))
          )}
        </div>
        <div className="absolute bottom-3 left-3 flex items-center gap-0.5 rounded-lg border border-edge bg-card/90 p-0.5" role="toolbar" aria-label="View">
          {VIEWS.map(([name, from]) => (
            <button key={name} type="button" onClick={() => scene?.view(from)} className="h-7 rounded-md px-2 hover:bg-tape">
              {name}
            </button>
          ))}
        </div>
        {mode === "difference" && <Bar scale={DIFFERENCE} />}
      </div>
    </section>
  );
}
