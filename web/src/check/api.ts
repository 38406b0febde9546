import { useQuery, useQueryClient } from "@tanstack/react-query";
import { get, isAway, post, saidOf } from "../api/http";
import type { JobAsked, JobRow, MeshCheck } from "../api/types";
import { notify } from "../ui/notices";

/** While something is worked at it is asked for again after so many ms. */
const EVERY = 800;

export const isAtWork = (job: JobRow) => job.state === "waiting" || job.state === "running";

/** The jobs of a costume, newest first. */
export function useJobs(costume: number) {
  return useQuery({
    queryKey: ["jobs", costume],
    queryFn: () => get<JobRow[]>(`/api/costumes/${costume}/jobs`),
    refetchInterval: (q) => (q.state.data?.some(isAtWork) ? EVERY : false),
  });
}

/** What the mesh of the drape on the stand is like; asked for by hand, as it looks at every pair of triangles. */
export const readMesh = (costume: number) => get<MeshCheck>(`/api/costumes/${costume}/mesh`);

/** What can be done with jobs; refusals are told. */
export function useJobbing(costume: number) {
  const queries = useQueryClient();
  const renew = () => queries.invalidateQueries({ queryKey: ["jobs", costume] });
  const done = async (work: Promise<unknown>) => {
    try {
      await work;
    } catch (error) {
      notify(saidOf(error, { item: "Job", reason: isAway(error) ? "the server does not answer" : "could not be done", remedy: "Try again" }));
    }
    await renew();
  };
  return {
    begin: (asked: JobAsked) => done(post(`/api/costumes/${costume}/jobs`, asked)),
    cancel: (id: number) => done(post(`/api/jobs/${id}/cancel`)),
    resume: (id: number) => done(post(`/api/jobs/${id}/resume`)),
    remove: (id: number) => done(post(`/api/jobs/${id}`, undefined, "DELETE")),
  };
}

/** What jobs do one by one. */
const UNITS = { sizes: ["body", "bodies"], ease: ["drape", "drapes"], cloths: ["cloth", "cloths"], lay: ["fabric", "fabrics"] } as const;

/** How a job stands. */
export function jobWords(job: JobRow): string {
  const [one, many] = UNITS[job.asked.kind];
  const counted = (n: number) => `${n} ${n === 1 ? one : many}`;
  switch (job.state) {
    case "waiting":
      return job.done > 0 ? `waits after ${counted(job.done)}` : "waits for a worker";
    case "running":
      return job.asked.kind === "ease" ? `drape ${job.done + 1}` : `${job.done} of ${counted(job.parts)}${left(job)}`;
    case "done":
      return `${counted(job.done)} in ${time(job.seconds)}`;
    case "cancelled":
      return `stopped after ${counted(job.done)}`;
    default:
      return "failed";
  }
}

const time = (seconds: number) => (seconds < 90 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`);

const left = (job: JobRow) => (job.done > 0 ? ` · ${time((job.seconds / job.done) * (job.parts - job.done))} left` : "");
