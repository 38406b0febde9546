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
import { NumberField } from "../ui/NumberField";
import { within } from "../ui/within";
import { download, type Downloaded } from "../ui/download";

function stem(name: string): string {
  const plain = name.toLowerCase().replaceAll("'", "").replace(/[^a-z0-9]+/g, "-").replace(/^-|-$/g, "");
  return plain || "costume";
}

/** What to deliver, and the files of the last delivery. */
export function DeliverCard({ state }: DocketProps) {
  const { status } = useDrapeOf("status");
  const [options, setOptions] = useState<DeliverOptions>({ kind: "glb", welded: true, layout: "metres", with_body: false, unit: "m", z_up: false, smooth: 0, thickness: 0, side: "outwards" });
  const [done, setDone] = useState<Downloaded[]>([]);
  const set = (part: Partial<DeliverOptions>) => setOptions((o) => ({ ...o, ...part }));
  const deliver = async () => {
    const base = stem(state.costume.name);
    const names = options.kind === "obj" ? [`${base}.obj`, `${base}.mtl`] : [`${base}.${options.kind}`];
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
        <Choice label="File" value={options.kind} options={[["glb", "GLB (glTF 2.0)"], ["obj", "OBJ with material"], ["ply", "PLY"], ["stl", "STL"]]} onChange={(kind) => set({ kind })} />
        <Choice label="Seams" value={options.welded ? "welded" : "open"} options={[["welded", "Welded"], ["open", "Open"]]} onChange={(v) => set({ welded: v === "welded" })} />
        <Choice label="Flat layout" value={options.layout} options={[["metres", "True scale, metres"], ["unit", "Fitted to 0…1"]]} onChange={(layout) => set({ layout })} />
        {options.kind !== "glb" && (
          <>
            <Choice label="Unit" value={options.unit} options={[["m", "metres"], ["cm", "centimetres"], ["mm", "millimetres"], ["inch", "inches"]]} onChange={(unit) => set({ unit })} />
            <Choice label="Up" value={options.z_up ? "z" : "y"} options={[["y", "y up, z to the front"], ["z", "z up, y to the back"]]} onChange={(v) => set({ z_up: v === "z" })} />
          </>
        )}
        <Choice label="Triangles" value={String(options.smooth)} options={[["0", "as simulated"], ["1", "4 times as fine"], ["2", "16 times as fine"]]} onChange={(v) => set({ smooth: Number(v) })} />
        <NumberField label="Thickness" value={options.thickness} unit="cm" plain="mm" step={0.2} onChange={(v) => set({ thickness: within(v, 0, 30) })} />
        {options.thickness > 0 && <Choice label="To" value={options.side} options={[["outwards", "the outside"], ["inwards", "the inside"], ["both", "both sides"]]} onChange={(side) => set({ side })} />}
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
