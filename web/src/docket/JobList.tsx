import { Square, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { JobRow } from "../api/types";
import { isAtWork, jobWords, useJobbing, useJobs } from "../check/api";
import { Button } from "../ui/Button";
import { Tip } from "../ui/Tip";
import { Card } from "./Card";

/** The jobs of one kind, newest first, each with what came of it. */
export function JobList({ costume, kind, title, none, children }: { costume: number; kind: JobRow["asked"]["kind"]; title: string; none: string; children?: (job: JobRow) => ReactNode }) {
  const jobs = (useJobs(costume).data ?? []).filter((j) => j.asked.kind === kind);
  const { cancel, resume, remove } = useJobbing(costume);
  const small = "grid h-7 w-7 shrink-0 place-items-center rounded-md hover:bg-ink/5";
  return (
    <Card title={title}>
      {jobs.length === 0 && <p className="text-ink-soft">{none}</p>}
      {jobs.map((job) => (
        <div key={job.id} data-job={job.id} data-state={job.state} className="border-edge border-t py-2 first:border-t-0">
          <div className="flex items-center gap-1">
            <span className="min-w-0 flex-1">
              <span className="block truncate font-medium">{job.name}</span>
              <span className={`figures block truncate text-[12px] ${job.state === "failed" ? "text-brick" : "text-ink-soft"}`}>{jobWords(job)}</span>
            </span>
            {isAtWork(job) && (
              <Tip text="Stop; what is done stays">
                <button type="button" aria-label={`Stop ${job.name}`} data-stop-job className={small} onClick={() => void cancel(job.id)}>
                  <Square size={13} />
                </button>
              </Tip>
            )}
            {(job.state === "cancelled" || job.state === "failed") && (
              <Button kind="quiet" className="px-2" data-resume-job onClick={() => void resume(job.id)}>
                Go on
              </Button>
            )}
            {!isAtWork(job) && (
              <Tip text="Throw it away">
                <button type="button" aria-label={`Throw ${job.name} away`} className={small} onClick={() => void remove(job.id)}>
                  <Trash2 size={13} />
                </button>
              </Tip>
            )}
          </div>
          {isAtWork(job) && (
            <div role="progressbar" aria-label={`Progress of ${job.name}`} aria-valuemin={0} aria-valuemax={job.parts} aria-valuenow={job.done} className="mt-1 h-[3px] overflow-hidden rounded-full bg-edge">
              <div className="h-full bg-moss" style={{ width: `${(100 * job.done) / Math.max(1, job.parts)}%` }} />
            </div>
          )}
          {job.state === "failed" && job.fault && (
            <p className="mt-1 text-brick">
              {job.fault.item} {job.fault.reason}. {job.fault.remedy}.
            </p>
          )}
          {children?.(job)}
        </div>
      ))}
    </Card>
  );
}
