import { useState } from "react";
import { saidOf } from "../api/http";
import type { DeliverOptions } from "../api/types";
import { useDrapeOf } from "../stand/socket";
import { Button } from "../ui/Button";
import { notify } from "../ui/notices";
import { Advice, Card } from "./Card";
import type { DocketProps } from "./props";
import { Findings } from "./Findings";
import { Choice } from "../ui/Choice";
import { download, type Downloaded } from "../ui/download";

function stem(name: string): string {
  const plain = name.toLowerCase().replaceAll("'", "").replace(/[^a-z0-9]+/g, "-").replace(/^-|-$/g, "");
  return plain || "costume";
}

/** What to deliver, and the files of the last delivery. */
export function DeliverCard({ state }: DocketProps) {
  const { status } = useDrapeOf("status");
  const [options, setOptions] = useState<DeliverOptions>({ kind: "glb", welded: true, layout: "metres", with_body: false });
  const [done, setDone] = useState<Downloaded[]>([]);
  const set = (part: Partial<DeliverOptions>) => setOptions((o) => ({ ...o, ...part }));
  const deliver = async () => {
    const base = stem(state.costume.name);
    const names = options.kind === "glb" ? [`${base}.glb`] : [`${base}.obj`, `${base}.mtl`];
    const query = new URLSearchParams(Object.entries(options).map(([k, v]) => [k, String(v)]));
    try {
      const files: Downloaded[] = [];
      for (const name of names) files.push(await download(`/api/costumes/${state.id}/deliver/${name}?${query}`));
      setDone(files);
    } catch (error) {
      notify(saidOf(error, { item: "Delivery", reason: "could not be made", remedy: "Drape the costume and try again" }));
    }
  };
  const findings = status?.findings ?? [];
  return (
    <Card title="Deliver">
      <form
        id="delivery"
        onSubmit={(e) => {
          e.preventDefault();
          void deliver();
        }}
      >
        <Choice label="File" value={options.kind} options={[["glb", "GLB (glTF 2.0)"], ["obj", "OBJ with material"]]} onChange={(kind) => set({ kind })} />
        <Choice label="Seams" value={options.welded ? "welded" : "open"} options={[["welded", "Welded"], ["open", "Open"]]} onChange={(v) => set({ welded: v === "welded" })} />
        <Choice label="Flat layout" value={options.layout} options={[["metres", "True scale, metres"], ["unit", "Fitted to 0…1"]]} onChange={(layout) => set({ layout })} />
        <label className="my-1 flex items-center gap-2">
          <input type="checkbox" checked={options.with_body} onChange={(e) => set({ with_body: e.target.checked })} /> With the body
        </label>
        <Findings findings={findings} />
        {findings.length > 0 && <Advice>The file will show the cloth as it hangs now.</Advice>}
        <Button kind="main" type="submit" className="mt-2 w-full" data-deliver>
          Deliver
        </Button>
      </form>
      {done.map((f) => (
        <p key={f.name} className="mt-2 flex justify-between text-moss" data-delivered={f.name}>
          <span>{f.name}</span> <span className="figures">{(f.size / 1024).toFixed(0)} KB</span>
        </p>
      ))}
    </Card>
  );
}
