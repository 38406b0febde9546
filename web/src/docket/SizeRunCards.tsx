import { useState } from "react";
import type { BodyChoice, JobRow, SizeRow } from "../api/types";
import { useJobbing } from "../check/api";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { format, formatSigned } from "../ui/units";
import { BodyChecks } from "./BodyChecks";
import { Card } from "./Card";
import { JobList } from "./JobList";
import type { DocketProps } from "./props";
import { useWearers } from "./wearers";

/** The costume on many bodies. */
export function SizeRunCards({ state }: DocketProps) {
  const wearers = useWearers(state.costume.body);
  const [chosen, setChosen] = useState<string[]>([]);
  const { begin } = useJobbing(state.id);
  const picked = wearers.filter((w) => chosen.includes(w.key));
  const nameOf = (body: BodyChoice) => wearers.find((w) => (w.body.figure ?? null) === (body.figure ?? null) && w.body.preset === body.preset && (w.key === "own") === (Object.keys(body.set ?? {}).length > 0))?.name ?? body.preset;
  return (
    <>
      <Card title="Size run">
        <p className="mb-2 text-ink-soft">Blocks are drafted anew for each body; drawn pieces stay as they are.</p>
        <div className="grid grid-cols-2 gap-x-2">
          <BodyChecks bodies={wearers} chosen={chosen} mark="data-wearer" onChange={setChosen} />
        </div>
        <div className="mt-2 flex gap-2">
          <Button className="flex-1" onClick={() => setChosen(chosen.length === wearers.length ? [] : wearers.map((w) => w.key))}>
            {chosen.length === wearers.length ? "None" : "All"}
          </Button>
          <Button kind="main" className="flex-1" data-run-sizes disabled={picked.length === 0} onClick={() => void begin({ kind: "sizes", bodies: picked.map((w) => w.body) })}>
            Try {picked.length || ""} on
          </Button>
        </div>
      </Card>
      <JobList costume={state.id} kind="sizes" title="Runs" none="None yet. Choose bodies and try it on.">
        {(job) => <Rows job={job} nameOf={nameOf} />}
      </JobList>
    </>
  );
}

/** As bad as it is: places that cross before other faults before stretch. */
function badness({ report, passed }: SizeRow): number {
  if (!report) return Number.POSITIVE_INFINITY;
  return 1e4 * report.places.filter((p) => p.kind !== "cloth-left-out").length + 100 * passed.length + report.strain.p99;
}

function Rows({ job, nameOf }: { job: JobRow; nameOf: (body: BodyChoice) => string }) {
  const unit = useDesk((s) => s.unit);
  const rows = job.results.flatMap((part) => (part.kind === "size" ? [part.row] : []));
  const worst = rows.length > 1 ? Math.max(...rows.map(badness)) : null;
  return (
    <>
      {rows.map((row, k) => {
        const girths = (row.report?.girths ?? []).filter((g) => g.closed && ["neck", "bust", "waist", "hip", "upper-arm"].includes(g.measure)).slice(0, 4);
        const isWorst = worst !== null && badness(row) === worst;
        return (
          // rows keep their places: what is done is not changed any more
          <div key={`${job.id} ${k}`} data-size-row={row.body.figure ?? row.body.preset} className={`mt-2 flex gap-2.5 rounded-md p-1 ${isWorst ? "bg-amber-pale" : ""}`}>
            {row.report && <img src={`/api/jobs/${job.id}/parts/${k}/picture`} alt={`Drape on ${nameOf(row.body)}`} className="h-[92px] w-[66px] shrink-0 rounded border border-edge object-cover" />}
            <div className="min-w-0 flex-1">
              <div className="flex justify-between gap-2">
                <span className="truncate font-medium">{nameOf(row.body)}</span>
                <span className={`figures whitespace-nowrap text-[12px] ${row.passed.length > 0 ? "text-brick" : "text-moss"}`}>{isWorst ? (row.passed.length > 0 ? "worst" : "just") : row.passed.length > 0 ? "passes limits" : "fits"}</span>
              </div>
              {girths.map((g) => (
                <div key={g.measure} className="flex justify-between gap-2 text-[12px]">
                  <span className="text-ink-soft">{g.name.split(" or ")[0]}, ease</span>
                  <span className={`figures whitespace-nowrap ${g.ease < 0 ? "text-brick" : ""}`} title={`the garment ${format(g.garment, unit)}, the body ${format(g.body, unit)}`}>
                    {formatSigned(g.ease, unit)}
                  </span>
                </div>
              ))}
              {row.report && (
                <div className="flex justify-between gap-2 text-[12px]">
                  <span className="text-ink-soft">stretch</span>
                  <span className="figures">{(100 * row.report.strain.p99).toFixed(1)} %</span>
                </div>
              )}
              {row.passed.map((words) => (
                <p key={words} className="text-[12px] text-brick">
                  {words}
                </p>
              ))}
            </div>
          </div>
        );
      })}
    </>
  );
}
