import { Download, Pause, Play, Scissors } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import type { CostumeState, FabricPlan, JobRow } from "../api/types";
import { isAtWork, useJobbing, useJobs } from "../check/api";
import { LargeSheet } from "../commands/LargeSheet";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { linePath } from "../ui/linePath";
import { NumberField } from "../ui/NumberField";
import { format } from "../ui/units";
import { within } from "../ui/within";
import { BodyChecks } from "./BodyChecks";
import { cutterOver } from "./cutter";
import { JobList } from "./JobList";
import { useWearers } from "./wearers";

/** The pieces on cloth of a width, in one size or several, and the cutter that cuts them. */
export function LayingPlan({ state }: { state: CostumeState }) {
  return (
    <LargeSheet sheet="laying" title="Laying plan" icon={<Scissors size={17} />}>
      {() => <CuttingTable state={state} />}
    </LargeSheet>
  );
}

const plansOf = (job: JobRow) => job.results.flatMap((part) => (part.kind === "plan" ? [part.plan] : []));

function CuttingTable({ state }: { state: CostumeState }) {
  const jobs = (useJobs(state.id).data ?? []).filter((j) => j.asked.kind === "lay");
  const [chosen, setChosen] = useState<number | null>(null);
  const [fabric, setFabric] = useState(0);
  const shown = jobs.find((j) => j.id === chosen && j.results.length > 0) ?? jobs.find((j) => j.results.length > 0);
  const plans = shown ? plansOf(shown) : [];
  const plan = plans[Math.min(fabric, plans.length - 1)];
  const colour = state.costume.fabrics.find((f) => f.name === plan?.fabric)?.colour;
  return (
    <div className="flex min-h-0 flex-1 gap-5">
      <div className="flex min-w-0 flex-1 flex-col">
        {plans.length > 1 && (
          <div className="mb-2 flex flex-wrap gap-1" role="tablist" aria-label="Fabrics">
            {plans.map((p, k) => (
              <button key={p.fabric} type="button" role="tab" aria-selected={p === plan} className={`rounded-md px-2.5 py-1 ${p === plan ? "bg-tape font-medium" : "hover:bg-ink/5"}`} onClick={() => setFabric(k)}>
                {p.fabric}
              </button>
            ))}
          </div>
        )}
        {plan && shown ? (
          // a new plan begins with the head of the cutter at rest
          <Cloth key={`${shown.id} ${plan.fabric}`} plan={plan} colour={colour ?? "#cfc8b8"} job={shown.id} />
        ) : (
          <p className="m-auto max-w-[320px] text-center text-ink-soft">Choose the width of the cloth and the sizes, and lay the pieces. They keep their grain and their allowances; the length that they need is sought for as short as it goes.</p>
        )}
      </div>
      <aside className="flex w-[250px] shrink-0 flex-col gap-3 overflow-y-auto">
        <Asking state={state} busy={jobs.some(isAtWork)} />
        <JobList costume={state.id} kind="lay" title="Plans" none="None yet.">
          {(job) =>
            job.results.length > 0 &&
            job !== shown && (
              <button type="button" className="mt-1 underline" onClick={() => (setChosen(job.id), setFabric(0))}>
                Show it
              </button>
            )
          }
        </JobList>
      </aside>
    </div>
  );
}

const EFFORTS = [
  ["40", "quick"],
  ["200", "careful"],
  ["1000", "patient"],
] as const;

function Asking({ state, busy }: { state: CostumeState; busy: boolean }) {
  const unit = useDesk((s) => s.unit);
  const { begin } = useJobbing(state.id);
  const own = { key: "", name: "The costume's own", body: state.costume.body };
  const wearers = [own, ...useWearers(state.costume.body).filter((w) => w.key !== "own")];
  const [sizes, setSizes] = useState<string[]>([""]);
  const [width, setWidth] = useState(1400);
  const [gap, setGap] = useState(3);
  const [nap, setNap] = useState(false);
  const [effort, setEffort] = useState<(typeof EFFORTS)[number][0]>("200");
  const picked = wearers.filter((w) => sizes.includes(w.key));
  const ask = () => void begin({ kind: "lay", sizes: picked.map((w) => w.body), options: { width, gap, nap, rounds: Number(effort) } });
  return (
    <section className="rounded-xl border border-edge p-3.5">
      <NumberField label="Width of the cloth" value={width} unit={unit} step={50} narrow onChange={(v) => setWidth(within(v, 100, 4000))} />
      <NumberField label="Between pieces" value={gap} unit={unit} step={1} narrow onChange={(v) => setGap(within(v, 0, 100))} />
      <label className="flex items-center gap-2 py-1 text-ink-soft">
        <input type="checkbox" data-nap checked={nap} onChange={(e) => setNap(e.target.checked)} /> It has a nap: none head down
      </label>
      <Choice label="Search" value={effort} options={EFFORTS} onChange={setEffort} />
      <fieldset className="mt-1 max-h-[150px] overflow-y-auto rounded-md border border-edge px-2 py-1">
        <legend className="px-1 text-[12px] text-ink-soft">Sizes together</legend>
        <BodyChecks bodies={wearers} chosen={sizes} mark="data-lay-size" onChange={setSizes} />
      </fieldset>
      <Button kind="main" className="mt-2 w-full" data-lay-pieces disabled={busy || picked.length === 0 || state.costume.pieces.length === 0} onClick={ask}>
        {busy ? "Laying…" : "Lay the pieces"}
      </Button>
    </section>
  );
}

/** Seconds that the cutter takes on the screen, whatever it takes at its table. */
const SHOWN = 24;

/** One fabric with its pieces, its length from left to right, and the cutter over it. */
function Cloth({ plan, colour, job }: { plan: FabricPlan; colour: string; job: number }) {
  const unit = useDesk((s) => s.unit);
  const [playing, setPlaying] = useState(false);
  const [done, setDone] = useState(0);
  const time = useRef(0);
  const head = useRef<SVGCircleElement>(null);
  const line = useRef<SVGPathElement>(null);
  const at = useMemo(() => cutterOver(plan), [plan]);
  useEffect(() => {
    if (!playing) return;
    let [frame, last] = [0, performance.now()];
    const draw = (now: number) => {
      time.current += ((now - last) / 1000) * Math.max(1, plan.way.seconds / SHOWN);
      last = now;
      const is = at(time.current);
      head.current?.setAttribute("cx", is.head[0].toFixed(1));
      head.current?.setAttribute("cy", is.head[1].toFixed(1));
      line.current?.setAttribute("d", linePath(is.line, false));
      setDone(is.done);
      if (is.piece === null) setPlaying(false);
      else frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [playing, at, plan]);
  const play = () => {
    if (!playing && time.current >= plan.way.seconds - 1) time.current = 0;
    setPlaying(!playing);
  };
  const cut = new Set(plan.way.cuts.slice(0, done).map((c) => c.piece));
  const { width, length } = plan;
  const room = (points: [number, number][]) => {
    const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
    const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    return { x: (left + right) / 2, y: (low + high) / 2, along: high - low };
  };
  const letters = Math.max(width, 0.5 * length) / 52;
  return (
    <>
      <div className="min-h-0 flex-1 rounded-lg border border-edge bg-paper p-2">
        {/* along the cloth to the right: (x, y) of the plan lies at (y, width - x) */}
        <svg viewBox={`-8 -8 ${length + 16} ${width + 16}`} className="h-full w-full" role="img" aria-label={`${plan.pieces.length} pieces on ${format(length, unit)} of ${plan.fabric}`} data-plan={plan.pieces.length} data-cut={done}>
          <g transform={`matrix(0 -1 1 0 0 ${width})`}>
            <rect width={width} height={length} fill={colour} fillOpacity={0.28} className="stroke-line" strokeWidth={2} vectorEffect="non-scaling-stroke" />
            {plan.pieces.map((p, k) => (
              <path key={`${p.of} ${p.name} ${k}`} d={linePath(p.outline)} fill={cut.has(k) ? colour : "var(--color-card)"} className="stroke-ink" strokeWidth={cut.has(k) ? 2 : 1} vectorEffect="non-scaling-stroke">
                <title>{`${p.of} ${p.name}`}</title>
              </path>
            ))}
            <path ref={line} className="fill-none stroke-brick" strokeWidth={3} vectorEffect="non-scaling-stroke" />
            <circle ref={head} cx={0} cy={0} r={letters * 0.7} className={playing || done > 0 ? "fill-brick" : "hidden"} />
          </g>
          {plan.pieces.map((p, k) => {
            const { x, y, along } = room(p.outline);
            // a letter is about half as wide as it is high
            const fits = [`${p.of && `${p.of} · `}${p.name} ${p.turned ? "←" : "→"}`, p.name].find((words) => words.length * 0.55 * letters < along);
            return (
              <text key={`${p.of} ${p.name} ${k}`} x={y} y={width - x} textAnchor="middle" dominantBaseline="middle" fontSize={letters} className="fill-ink">
                {fits}
              </text>
            );
          })}
        </svg>
      </div>
      <div className="mt-3 flex items-center gap-3">
        <Button data-play-cutter onClick={play}>
          {playing ? <Pause size={14} /> : <Play size={14} />} {playing ? "Hold the cutter" : "Play the cutter"}
        </Button>
        <a className="inline-flex h-8 items-center gap-1.5 rounded-md border border-line px-3 font-medium hover:bg-paper" href={`/api/jobs/${job}/plan.svg`} data-plan-svg>
          <Download size={14} /> Save as SVG
        </a>
        <span className="figures text-ink-soft" data-plan-figures>
          {format(length, unit)} of cloth {format(width, unit)} wide · {(100 * plan.used).toFixed(1)} % used · {plan.pieces.length} pieces · cut in {Math.floor(plan.way.seconds / 60)}:{String(Math.round(plan.way.seconds % 60)).padStart(2, "0")} min
        </span>
      </div>
    </>
  );
}
