import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { ListChecks } from "lucide-react";
import { get, post } from "../api/http";
import type { WorkRow } from "../api/types";
import { go } from "../place";
import { Button } from "../ui/Button";

/** While something is worked at it is asked for again after so many ms. */
const EVERY = 1500;

const isOpen = (row: WorkRow) => row.state === "running" || row.state === "waiting";

function words(row: WorkRow): string {
  if (row.state === "running") {
    const left = row.done > 0 ? (row.seconds / row.done) * (row.of - row.done) : null;
    return `${row.done} of ${row.of}${left === null ? "" : left < 90 ? ` · ${Math.max(1, Math.round(left))} s left` : ` · ${Math.round(left / 60)} min left`}`;
  }
  if (row.state === "waiting") return "waits for a worker";
  if (row.state === "cancelled") return `stopped after ${row.done}`;
  return row.state === "done" ? "done" : "failed";
}

/** All long work of the house: what is running, what waits, and what was done last. */
export function WorkList() {
  const work = useQuery({ queryKey: ["work"], queryFn: () => get<WorkRow[]>("/api/work"), refetchOnMount: "always", refetchInterval: (q) => (q.state.data?.some(isOpen) ? EVERY : false) });
  const rows = work.data ?? [];
  const open = rows.filter(isOpen).length;
  const stop = async (row: WorkRow) => {
    await post(`/api/${row.kind === "job" ? "jobs" : "rehearsals"}/${row.id}/cancel`).catch(() => undefined);
    await work.refetch();
  };
  return (
    <Popover.Root onOpenChange={(shown) => shown && void work.refetch()}>
      <Popover.Trigger asChild>
        <Button data-work={open}>
          <ListChecks size={15} /> {open > 0 ? `At work: ${open}` : "Work"}
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={6} className="z-50 max-h-[70vh] w-[380px] overflow-y-auto rounded-xl border border-edge bg-card p-3 shadow-lg">
          {rows.length === 0 && <p className="text-ink-soft">Rehearsals, size runs and fittings to ease are listed here.</p>}
          {rows.map((row) => (
            <div key={`${row.kind} ${row.id}`} data-work-row={row.state} className="flex items-center gap-2 border-edge border-t py-1.5 first:border-t-0">
              <button type="button" className="min-w-0 flex-1 text-left" onClick={() => go(`/costume/${row.costume}`)} title="Open its costume">
                <span className="block truncate font-medium">{row.name}</span>
                <span className="block truncate text-[12px] text-ink-soft">
                  {row.costume_name} · {words(row)}
                </span>
              </button>
              {isOpen(row) && <Button onClick={() => void stop(row)}>Stop</Button>}
            </div>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
