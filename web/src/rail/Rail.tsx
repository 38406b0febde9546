import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Plus } from "lucide-react";
import { useState } from "react";
import { go } from "../place";
import { get, post, Refused } from "../api/http";
import type { CostumeState, RailCostume, RailProduction } from "../api/types";
import { FileField } from "../ui/FileField";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { notify } from "../ui/notices";
import { CostumeCard } from "./CostumeCard";
import { WorkList } from "./WorkList";

type Asking = { what: "costume"; production: RailProduction } | { what: "rename-production"; production: RailProduction } | { what: "rename"; costume: RailCostume } | { what: "production" };

/** How often the rail is read again while costumes are draped in the background, ms. */
const YOUNG = 4000;

/** Some costume has no picture of cloth yet. */
const isYoung = (rail: RailProduction[] | undefined) => rail?.some((p) => p.costumes.some((c) => c.pieces > 0 && c.fitting === null && c.draped_at === null)) ?? false;

/** The home screen: productions with their costumes side by side. */
export function Rail() {
  const client = useQueryClient();
  const rail = useQuery({ queryKey: ["rail"], queryFn: () => get<RailProduction[]>("/api/rail"), refetchOnMount: "always", refetchInterval: (q) => (isYoung(q.state.data) ? YOUNG : false) });
  const [asking, setAsking] = useState<Asking | null>(null);
  const act = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (error) {
      notify(error instanceof Refused ? error.refusal : { item: "Server", reason: "does not answer", remedy: "Start it again and reload the page" });
    }
    await client.invalidateQueries({ queryKey: ["rail"] });
  };
  const remove = (costume: RailCostume) =>
    act(async () => {
      await post(`/api/costumes/${costume.id}`, undefined, "DELETE");
      const putBack = () => void act(() => post(`/api/costumes/${costume.id}/restore`));
      notify({ item: costume.name, reason: "was taken off the rail", remedy: "" }, { good: true, action: { name: "Put back", run: putBack } });
    });
  return (
    <main className="min-h-full pb-16">
      <header className="flex h-[46px] items-center gap-4 border-edge border-b bg-card px-4">
        <span className="wordmark">Ourlet</span>
        <span className="text-ink-soft">The rail</span>
        <div className="ml-auto flex gap-2">
          <WorkList />
          <Button onClick={() => setAsking({ what: "production" })}>
            <Plus size={15} /> New production
          </Button>
        </div>
      </header>
      {rail.error && <p className="p-8 text-brick">The rail cannot be read for now. It is tried again.</p>}
      {rail.data?.map((production) => (
        <section key={production.id} className="mx-auto max-w-[1180px] px-8 pt-8" data-production={production.id}>
          <div className="mb-3 flex items-baseline gap-3">
            <h1 className="font-heading font-semibold text-[24px]">
              <button type="button" className="hover:underline" title="Rename the production" onClick={() => setAsking({ what: "rename-production", production })}>
                {production.name}
              </button>
            </h1>
            <ImportButton onText={(text) => act(async () => go(`/costume/${(await post<CostumeState>("/api/costumes/import", { production: production.id, text })).id}`))} />
          </div>
          <div className="h-[5px] rounded-full bg-ink" />
          <div className="-mt-[5px] flex flex-wrap gap-x-7 gap-y-6">
            {production.costumes.map((costume) => (
              <CostumeCard
                key={costume.id}
                costume={costume}
                onRename={() => setAsking({ what: "rename", costume })}
                onDuplicate={() => void act(() => post(`/api/costumes/${costume.id}/duplicate`))}
                onRemove={() => void remove(costume)}
              />
            ))}
            <button
              type="button"
              onClick={() => setAsking({ what: "costume", production })}
              className="mt-6 flex h-[328px] w-[208px] flex-col items-center justify-center gap-2 rounded-lg border-[1.5px] border-edge border-dashed text-ink-soft hover:border-ink hover:text-ink"
            >
              <Plus size={22} /> New costume
            </button>
          </div>
        </section>
      ))}
      {rail.data?.length === 0 && <p className="p-10 text-ink-soft">No production yet. Start with “New production”.</p>}
      {asking && <Asked asking={asking} act={act} onClose={() => setAsking(null)} />}
    </main>
  );
}

function Asked({ asking, act, onClose }: { asking: Asking; act: (work: () => Promise<unknown>) => Promise<void>; onClose: () => void }) {
  if (asking.what === "production")
    return <AskName title="New production" label="Name" confirm="Make it" onClose={onClose} onDone={(name) => void act(() => post("/api/productions", { name }))} />;
  if (asking.what === "rename-production")
    return (
      <AskName title="Rename production" label="Name" start={asking.production.name} confirm="Rename" onClose={onClose} onDone={(name) => void act(() => post(`/api/productions/${asking.production.id}/rename`, { name }))} />
    );
  if (asking.what === "costume")
    return (
      <AskName
        title="New costume"
        label="Name"
        confirm="Start drafting"
        onClose={onClose}
        onDone={(name) => void act(async () => go(`/costume/${(await post<CostumeState>("/api/costumes", { production: asking.production.id, name })).id}`))}
      />
    );
  const { costume } = asking;
  const rename = async (name: string) => {
    const { step } = await get<CostumeState>(`/api/costumes/${costume.id}`);
    await post(`/api/costumes/${costume.id}/edits`, { base: step, key: crypto.randomUUID(), edit: { do: "rename-costume", name } });
  };
  return <AskName title="Rename costume" label="Name" start={costume.name} confirm="Rename" onClose={onClose} onDone={(name) => void act(() => rename(name))} />;
}

function ImportButton({ onText }: { onText: (text: string) => void }) {
  return (
    <FileField accept=".json" onFile={async (file) => onText(await file.text())}>
      {(open) => (
        <button type="button" className="text-ink-soft underline-offset-2 hover:text-ink hover:underline" onClick={open}>
          Open a costume file…
        </button>
      )}
    </FileField>
  );
}
