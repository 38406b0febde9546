import { Square, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import type { CostumeState, FrameReport, MotionChoice, Plan, RehearsalRow } from "../api/types";
import { saidOf } from "../api/http";
import { isDraped, isRunning } from "../desk/standing";
import { useDeskOf } from "../desk/store";
import { useFollowing, useMotions, useRehearsals, useRehearsing } from "../rehearse/api";
import { causeOf, isWorking, rehearse, shownReport, useRehearse, useRehearseOf } from "../rehearse/store";
import { usePlanned } from "../rehearse/planned";
import { frameName, stateWords } from "../rehearse/words";
import { useDrape } from "../stand/socket";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { download, type Downloaded } from "../ui/download";
import { NumberField } from "../ui/NumberField";
import { notify } from "../ui/notices";
import { Tip } from "../ui/Tip";
import { Advice, Card, Row } from "./Card";
import type { DocketProps } from "./props";
import { ThingsCard } from "./ThingsCard";
import { WindTrack } from "./WindTrack";
import { within } from "../ui/within";

const PLAN: Plan = { fps: 24, lead_in: 50, settle: 30, floor: 0.5, substeps: 1, clearance: 0, wind: [], gusts: 0, seed: 1, props: [] };

/** A motion for the costume on the stand, what came of it, and the frame that is looked at. */
export function RehearseCards({ state }: DocketProps) {
  useFollowing();
  const chosen = useRehearse((s) => s.chosen);
  return (
    <>
      <MotionCard state={state} />
      <ListCard id={state.id} />
      {chosen !== null && <FrameCard id={state.id} />}
      {chosen !== null && <FaultsCard />}
      {chosen !== null && <FilesOfMotion />}
    </>
  );
}

const keyOf = (choice: MotionChoice) => JSON.stringify(choice);

/** Which motion, in how many frames, in what wind; with several layers, which of them. */
function MotionCard({ state }: { state: CostumeState }) {
  const { id, costume } = state;
  const figure = costume.body.figure ?? null;
  const layers = [...new Set(costume.pieces.filter((p) => !p.parked).map((p) => p.wear ?? 1))].sort((a, b) => a - b);
  const rows = useRehearsals(id);
  const [which, setWhich] = useState("all");
  const inner = (rows.data ?? []).filter((r) => r.layers !== null && r.state === "done");
  const choices = [
    ["all", "all at once"] as const,
    ...layers.slice(0, -1).map((l) => [`up to ${l}`, `only those up to layer ${l}`] as const),
    ...inner.map((r) => [`over ${r.id}`, `the rest, over “${r.name}” (${r.id})`] as const),
  ];
  const over = inner.find((r) => which === `over ${r.id}`);
  const upTo = layers.find((l) => which === `up to ${l}`);
  const motions = useMotions(id, figure);
  const { begin } = useRehearsing(id);
  const status = useDrape((s) => s.status);
  const [choice, setChoice] = useState<MotionChoice>({ named: "walk" });
  const [plan, setPlan] = useState<Plan>(PLAN);
  useEffect(() => {
    usePlanned.setState({ things: plan.props });
    return () => usePlanned.setState({ things: [] });
  }, [plan.props]);
  const [busy, setBusy] = useState(false);
  const { unit } = useDeskOf("unit");
  const set = (part: Partial<Plan>) => setPlan((p) => ({ ...p, ...part }));
  const options = (motions.data ?? []).map((m) => [keyOf(m.choice), m.own ? `${m.name} (the figure's)` : m.name] as const);
  const go = async (quick: boolean) => {
    setBusy(true);
    await begin({ motion: choice, plan, quick, ...(upTo !== undefined && { layers: upTo }), ...(over && { beneath: over.id }) });
    setBusy(false);
  };
  return (
    <>
    <Card title="Motion">
      <Choice label="Motion" value={keyOf(choice)} options={options} none="…" onChange={(v) => setChoice(JSON.parse(v) as MotionChoice)} />
      {layers.length > 1 && <Choice label="Layers" value={which} options={choices} onChange={setWhich} />}
      {over && <Advice>It takes the motion and the frames of “{over.name}”, whose cloth lies beneath.</Advice>}
      <NumberField label="Lead-in" value={plan.lead_in} unit="cm" plain="frames" step={10} onChange={(v) => set({ lead_in: Math.round(within(v, 0, 2000)) })} />
      <NumberField label="Settle" value={plan.settle} unit="cm" plain="frames" step={10} onChange={(v) => set({ settle: Math.round(within(v, 0, 2000)) })} />
      <details className="my-1">
        <summary className="cursor-pointer py-1 text-ink-soft hover:text-ink">Rate, steps, clearance and wind</summary>
        <NumberField label="Frame rate" value={plan.fps} unit="cm" plain="/s" step={1} onChange={(v) => set({ fps: within(v, 1, 120) })} />
        <NumberField label="Steps" value={plan.substeps} unit="cm" plain="×" step={1} onChange={(v) => set({ substeps: Math.round(within(v, 1, 8)) })} />
        <NumberField label="More clearance" value={plan.clearance} unit="cm" plain="mm" step={1} onChange={(v) => set({ clearance: within(v, -2, 20) })} />
        <WindTrack plan={plan} set={set} />
      </details>
      {isRunning(status) && <Advice>The cloth still falls: the rehearsal begins with it as it hangs now.</Advice>}
      {status && !isDraped(status) && <Advice>Not draped yet: it is hung and draped first.</Advice>}
      <div className="mt-2 flex gap-2">
        <Tip text="Large triangles: almost as fast as it plays">
          <Button className="flex-1" disabled={busy || !motions.data} data-first-look onClick={() => void go(true)}>
            First look
          </Button>
        </Tip>
        <Button kind="main" className="flex-1" disabled={busy || !motions.data} data-rehearse onClick={() => void go(false)}>
          Rehearse
        </Button>
      </div>
    </Card>
      <ThingsCard state={state} things={plan.props} unit={unit} set={(props) => set({ props })} />
    </>
  );
}

/** The rehearsals of the costume, newest first. */
function ListCard({ id }: { id: number }) {
  const rows = useRehearsals(id);
  const chosen = useRehearse((s) => s.chosen);
  const { cancel, resume, remove } = useRehearsing(id);
  const small = "grid h-7 w-7 shrink-0 place-items-center rounded-md hover:bg-ink/5";
  return (
    <Card title="Rehearsals">
      {(rows.data?.length ?? 0) === 0 && <p className="text-ink-soft">None yet. Choose a motion and rehearse it.</p>}
      {rows.data?.map((row) => (
        <div key={row.id} className={`-mx-1.5 rounded-md p-1.5 ${row.id === chosen ? "bg-tape" : "hover:bg-paper"}`} data-rehearsal={row.id} data-state={row.state}>
          <div className="flex items-center gap-1">
            <button type="button" className="min-w-0 flex-1 text-left" aria-pressed={row.id === chosen} onClick={() => rehearse.choose(row)} title="Show it on the stand">
              <span className="block truncate font-medium">
                {row.name}
                {row.begun_with !== null && <span className="font-normal text-ink-soft"> · again from {frameName(row.begun_at, row.lead_in)}</span>}
              </span>
              <span className={`figures block truncate text-[12px] ${row.bad > 0 || row.state === "failed" ? "text-brick" : "text-ink-soft"}`}>{stateWords(row)}</span>
            </button>
            {isWorking(row) && (
              <Tip text="Stop; what is done stays">
                <button type="button" aria-label={`Stop ${row.name}`} data-stop className={small} onClick={() => void cancel(row.id)}>
                  <Square size={13} />
                </button>
              </Tip>
            )}
            {(row.state === "cancelled" || row.state === "failed") && (
              <Button kind="quiet" className="px-2" data-resume onClick={() => void resume(row.id)}>
                Go on
              </Button>
            )}
            {!isWorking(row) && (
              <Tip text="Throw it away">
                <button type="button" aria-label={`Throw ${row.name} away`} className={small} onClick={() => void remove(row.id)}>
                  <Trash2 size={13} />
                </button>
              </Tip>
            )}
          </div>
          {row.state === "failed" && row.fault && (
            <p className="mt-1 text-brick">
              {row.fault.item} {row.fault.reason}. {row.fault.remedy}.
            </p>
          )}
          {isWorking(row) && <Progress row={row} />}
        </div>
      ))}
    </Card>
  );
}

function Progress({ row }: { row: RehearsalRow }) {
  return (
    <div role="progressbar" aria-label={`Frames of ${row.name}`} aria-valuemin={0} aria-valuemax={row.frames} aria-valuenow={row.done} className="mt-1 h-[3px] overflow-hidden rounded-full bg-edge">
      <div className="h-full bg-moss" style={{ width: `${(100 * row.done) / row.frames}%` }} />
    </div>
  );
}

/** The frame on the stand in figures, and what can be done from it. */
function FrameCard({ id }: { id: number }) {
  const { row, frame, reports, causes } = useRehearseOf("row", "frame", "reports", "causes");
  const { again, keep } = useRehearsing(id);
  const [naming, setNaming] = useState(false);
  const report = shownReport({ reports, frame });
  if (!row || !report) return null;
  const name = frameName(frame, row.lead_in);
  const cause = causeOf({ causes }, report);
  return (
    <Card title={name.replace(/^./, (c) => c.toUpperCase())}>
      {cause && (
        <Advice>
          <p data-cause={cause.cause}>
            {report.crossing_piece ? `${report.crossing_piece}: ` : ""}
            {cause.why}.
          </p>
          <Button className="mt-1.5 w-full px-1" data-mend disabled={isWorking(row)} onClick={() => void again(row.id, { frame, mend: true })}>
            Mend from ten frames before
          </Button>
          <p className="mt-1 text-ink-soft">Rehearses on with {cause.mend}.</p>
        </Advice>
      )}
      <Row name="Through the body" value={report.through_body} tone={report.through_body > 0 ? "text-brick" : ""} />
      <Row name="Through cloth" value={report.through_cloth} tone={report.through_cloth > 0 ? "text-brick" : ""} />
      <Row name="Stretch, 99 of 100" value={`${(100 * report.strain_p99).toFixed(1)} %`} />
      <Row name="Largest stretch" value={`${(100 * report.strain_max).toFixed(1)} %`} />
      <Row name="Open seam points" value={report.open_pairs} tone={report.open_pairs > 0 ? "text-brick" : ""} />
      <Row name="Slips on the skin" value={`${(100 * report.slip).toFixed(1)} cm/s`} />
      <Row name="Fastest point" value={`${report.fastest.toFixed(2)} m/s`} />
      <Row name="Steps" value={report.steps} />
      <div className="mt-2 grid gap-1.5">
        <Button data-keep-frame onClick={() => setNaming(true)}>
          Keep as a fitting
        </Button>
        <Button data-again disabled={isWorking(row)} onClick={() => void again(row.id, { frame, mend: false })}>
          Again from here
        </Button>
      </div>
      {naming && <AskName title="Keep this frame" label="Name of the fitting" start={`${row.name}, ${name}`} confirm="Keep" onDone={(given) => void keep(row.id, { frame, name: given })} onClose={() => setNaming(false)} />}
    </Card>
  );
}

/** Frames in a row that fail in the same way. */
function faultRuns(reports: FrameReport[]) {
  const runs: { from: number; to: number; report: FrameReport }[] = [];
  reports.forEach((report, frame) => {
    if (!report.cause) return;
    const last = runs[runs.length - 1];
    if (last && last.to === frame - 1 && last.report.cause === report.cause && last.report.crossing_piece === report.crossing_piece) last.to = frame;
    else runs.push({ from: frame, to: frame, report });
  });
  return runs;
}

/** All frames that fail, with the piece and the cause; a click goes there. */
function FaultsCard() {
  const { row, reports, causes } = useRehearseOf("row", "reports", "causes");
  const runs = faultRuns(reports);
  if (!row || runs.length === 0) return null;
  return (
    <Card title="Frames that fail">
      {runs.map(({ from, to, report }) => (
        <button key={from} type="button" data-fault-run={from} onClick={() => rehearse.seek(from)} className="flex w-full items-start gap-2 rounded-md px-1 py-1 text-left hover:bg-paper">
          <span className="figures whitespace-nowrap text-brick">{from === to ? frameName(from, row.lead_in) : `${frameName(from, row.lead_in)} to ${to - row.lead_in}`}</span>
          <span className="min-w-0 flex-1 text-ink-soft">
            {report.crossing_piece ? `${report.crossing_piece}: ` : ""}
            {causeOf({ causes }, report)?.why}
          </span>
        </button>
      ))}
    </Card>
  );
}

const ENDINGS = [
  ["usda", "USD, time samples"],
  ["abc", "Alembic"],
  ["glb", "GLB, morph targets"],
  ["pc2", "PC2 point cache with OBJ"],
] as const;

/** The garment over time as files. */
function FilesOfMotion() {
  const { row } = useRehearseOf("row");
  const [ending, setEnding] = useState<(typeof ENDINGS)[number][0]>("usda");
  const [body, setBody] = useState(false);
  const [done, setDone] = useState<Downloaded[]>([]);
  if (!row || row.done <= row.lead_in) return null;
  const deliver = async () => {
    try {
      const files: Downloaded[] = [];
      for (const one of ending === "pc2" ? ["pc2", "obj"] : [ending]) files.push(await download(`/api/rehearsals/${row.id}/deliver/${one}?body=${body}`));
      setDone(files);
    } catch (error) {
      notify(saidOf(error, { item: "Delivery", reason: "could not be made", remedy: "Try again when the server answers" }));
    }
  };
  return (
    <Card title="Moving mesh">
      <Choice label="File" value={ending} options={ENDINGS} onChange={setEnding} />
      <label className="my-1 flex items-center gap-2">
        <input type="checkbox" checked={body} onChange={(e) => setBody(e.target.checked)} /> The body in place of the garment
      </label>
      <Button className="mt-1 w-full" data-deliver-motion onClick={() => void deliver()}>
        Deliver {row.done - row.lead_in} frames
      </Button>
      {done.map((f) => (
        <p key={f.name} className="mt-2 flex justify-between gap-2 text-moss" data-delivered={f.name}>
          <span className="truncate">{f.name}</span> <span className="figures">{(f.size / 1024).toFixed(0)} KB</span>
        </p>
      ))}
    </Card>
  );
}
