import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { get } from "../api/http";
import type { DeliverOptions, DeliveryPreview } from "../api/types";
import { useDrapeOf } from "../stand/socket";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { within } from "../ui/within";
import { Advice, Card, Row } from "./Card";
import { asked, delivery, useDelivery } from "./delivering";
import { Findings } from "./Findings";
import type { DocketProps } from "./props";

const KINDS = [
  ["glb", "GLB (glTF 2.0)"],
  ["obj", "OBJ with material"],
  ["usda", "USD text"],
  ["usdz", "USD archive"],
  ["ply", "PLY"],
  ["stl", "STL"],
] as const;
const LAYOUTS = [
  ["metres", "true scale, metres"],
  ["unit", "fitted to 0…1"],
  ["tile", "packed into one tile"],
  ["fabric-tiles", "a tile for each fabric"],
  ["piece-tiles", "a tile for each piece"],
] as const;
const SIZES = [1024, 2048, 4096, 8192].map((px) => [String(px), `${px} px`] as const);

const LEVELS = [0, 1, 2, 3, 4].map((n) => [String(n), n === 0 ? "one" : `${n + 1}, each half as fine`] as const);

/** What the choices come to, before anything is written. */
function Preview({ costume, options }: { costume: number; options: DeliverOptions }) {
  const drape = useDrapeOf("status", "generation");
  const query = asked(options).toString();
  const still = drape.status?.activity === "at-rest" || drape.status?.activity === "paused";
  const found = useQuery({
    queryKey: ["delivery", costume, query, drape.generation, drape.status?.activity, drape.status?.time],
    queryFn: () => get<DeliveryPreview>(`/api/costumes/${costume}/delivery?${query}`),
    enabled: still,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const p = found.data;
  if (!p || !still) return null;
  const unit = options.kind === "glb" ? "m" : options.unit === "inch" ? "in" : options.unit;
  return (
    <div className={`mt-2 border-edge border-t pt-1 ${found.isFetching ? "opacity-60" : ""}`} data-preview={p.triangles}>
      <Row name="Triangles" value={p.triangles.toLocaleString("en")} />
      {p.quads > 0 && <Row name="Four-sided" value={`${((100 * p.quads) / (p.triangles - p.quads)).toFixed(1)} % of ${(p.triangles - p.quads).toLocaleString("en")} faces`} />}
      <Row name="Vertices" value={p.vertices.toLocaleString("en")} />
      <Row name="Pieces, materials" value={`${p.groups}, ${p.materials}`} />
      {p.levels.length > 0 && <Row name="Further levels" value={p.levels.map((n) => n.toLocaleString("en")).join(", ")} />}
      {p.body_triangles > 0 && <Row name="Body, triangles" value={p.body_triangles.toLocaleString("en")} />}
      <Row name={`Size, ${unit}`} value={p.size.map((v) => (v >= 100 ? v.toFixed(0) : v.toFixed(2))).join(" × ")} />
      {p.tiles && (
        <>
          <Row name="Texels to a cm" value={p.tiles.texels_per_cm.toFixed(1)} />
          <Row name={p.tiles.tiles === 1 ? "Of the tile used" : `Of ${p.tiles.tiles} tiles used`} value={`${(100 * p.tiles.used).toFixed(0)} %`} />
        </>
      )}
    </div>
  );
}

/** What to deliver, and the files of the last delivery. */
export function DeliverCard({ state }: DocketProps) {
  const { status } = useDrapeOf("status");
  const { options, presets, done, busy } = useDelivery();
  const [agreed, setAgreed] = useState(false);
  const [naming, setNaming] = useState(false);
  const { set } = delivery;
  const findings = status?.findings ?? [];
  const faults = findings.some((f) => f.is_fault);
  const said = findings.map((f) => f.kind).join();
  // a yes holds for what was said then
  useEffect(() => setAgreed(false), [said]);
  const tiled = options.layout !== "metres" && options.layout !== "unit";
  const printed = state.costume.fabrics.some((f) => f.print !== null && state.costume.pieces.some((p) => p.fabric === f.id));
  const preset = presets.find((p) => asked(p.options).toString() === asked(options).toString());
  return (
    <Card title="Deliver">
      <form
        id="delivery"
        onSubmit={(e) => {
          e.preventDefault();
          void delivery.run(state.id);
        }}
      >
        {presets.length > 0 && (
          <Choice
            label="As kept"
            value={preset?.name ?? ""}
            options={[...(preset ? [] : [["", "another choice"] as const]), ...presets.map((p) => [p.name, p.name] as const)]}
            onChange={(name) => {
              const found = presets.find((p) => p.name === name);
              if (found) set(found.options);
            }}
          />
        )}
        <Choice label="File" value={options.kind} options={KINDS} onChange={(kind) => set(kind === "glb" || kind === "stl" ? { kind, faces: "triangles" } : { kind })} />
        <Choice label="Seams" value={options.welded ? "welded" : "open"} options={[["welded", "Welded"], ["open", "Open"]]} onChange={(v) => set({ welded: v === "welded" })} />
        <Choice label="Flat layout" value={options.layout} options={LAYOUTS} onChange={(layout) => set({ layout })} />
        {tiled && (
          <>
            <Choice label="Texture" value={String(options.texture)} options={SIZES} onChange={(v) => set({ texture: Number(v), margin: Math.min(options.margin, Number(v) / 16) })} />
            <NumberField label="Margin" value={options.margin} unit="cm" plain="px" step={1} onChange={(v) => set({ margin: Math.round(within(v, 0, options.texture / 16)) })} />
            <Choice label="Grain" value={options.turn ? "free" : "kept"} options={[["kept", "upright"], ["free", "turned as it fits"]]} onChange={(v) => set({ turn: v === "free" })} />
          </>
        )}
        {printed && <PrintsChoice options={options} set={set} />}
        {options.kind !== "glb" && (
          <>
            <Choice label="Unit" value={options.unit} options={[["m", "metres"], ["cm", "centimetres"], ["mm", "millimetres"], ["inch", "inches"]]} onChange={(unit) => set({ unit })} />
            <Choice label="Up" value={options.z_up ? "z" : "y"} options={[["y", "y up, z to the front"], ["z", "z up, y to the back"]]} onChange={(v) => set({ z_up: v === "z" })} />
          </>
        )}
        {options.kind !== "glb" && options.kind !== "stl" && (
          <Choice label="Faces" value={options.faces} options={[["triangles", "of three sides"], ["quads", "of four, along the grain"]]} onChange={(faces) => set(faces === "quads" ? { faces, smooth: 0, lighter: 100, levels: 0 } : { faces })} />
        )}
        {options.faces === "triangles" && <Choice label="Triangles" value={String(options.smooth)} options={[["0", "as simulated"], ["1", "4 times as fine"], ["2", "16 times as fine"]]} onChange={(v) => set({ smooth: Number(v) })} />}
        {options.faces === "triangles" && <NumberField label="Lighter, keep" value={options.lighter} unit="cm" plain="%" step={5} onChange={(v) => set({ lighter: within(v, 1, 100) })} />}
        {options.faces === "triangles" && <Choice label="Levels of detail" value={String(options.levels)} options={LEVELS} onChange={(v) => set({ levels: Number(v) })} />}
        <NumberField label="Thickness" value={options.thickness} unit="cm" plain="mm" step={0.2} onChange={(v) => set({ thickness: within(v, 0, 30) })} />
        {options.thickness > 0 && <Choice label="To" value={options.side} options={[["outwards", "the outside"], ["inwards", "the inside"], ["both", "both sides"]]} onChange={(side) => set({ side })} />}
        <label className="my-1 flex items-center gap-2">
          <input type="checkbox" checked={options.with_body} onChange={(e) => set({ with_body: e.target.checked })} /> With the body
        </label>
        <Preview costume={state.id} options={options} />
        <Findings findings={findings} />
        {findings.length > 0 && <Advice>The file will show the cloth as it hangs now.</Advice>}
        {faults && (
          <label className="my-1 flex items-center gap-2">
            <input type="checkbox" data-agree checked={agreed} onChange={(e) => setAgreed(e.target.checked)} /> Yes, deliver it so
          </label>
        )}
        <Button kind="main" type="submit" className="mt-2 w-full" data-deliver disabled={busy || (faults && !agreed)}>
          {busy ? "Writing…" : "Deliver"}
        </Button>
        <div className="mt-2 flex gap-2">
          <Button className="flex-1" data-manifest onClick={() => void delivery.manifest(state.id)}>
            Manifest
          </Button>
          <Button className="flex-1" data-keep-delivery onClick={() => setNaming(true)}>
            Keep choice
          </Button>
          {preset && <Button onClick={() => delivery.drop(preset.name)}>Forget it</Button>}
        </div>
      </form>
      {naming && <AskName title="Keep this choice" label="Name, for all costumes in this browser; one of the same name is replaced" start={preset?.name ?? KINDS.find(([k]) => k === options.kind)?.[1] ?? ""} confirm="Keep" onDone={delivery.keep} onClose={() => setNaming(false)} />}
      {done.map((f) => (
        <p key={f.name} className="mt-2 flex justify-between gap-2 text-moss" data-delivered={f.name}>
          <span className="truncate">{f.name}</span> <span className="figures whitespace-nowrap">{(f.size / 1024).toFixed(0)} KB</span>
        </p>
      ))}
    </Card>
  );
}

/** How prints come along: repeated by the material, or drawn into the texture of the layout. */
function PrintsChoice({ options, set }: { options: DeliverOptions; set: (part: Partial<DeliverOptions>) => void }) {
  if (options.kind === "ply" || options.kind === "stl") return <p className="py-1 text-ink-soft">Prints are not kept in this format.</p>;
  if (options.layout === "metres") return options.kind === "obj" ? <p className="py-1 text-ink-soft">OBJ keeps prints in a layout of tiles only.</p> : null;
  if (options.kind === "obj") return <p className="py-1 text-ink-soft">Prints are drawn into the layout, {options.texture} px a tile.</p>;
  return <Choice label="Prints" value={options.baked ? "baked" : "repeated"} options={[["repeated", "repeated on their own layout"], ["baked", "drawn into this layout"]]} onChange={(v) => set({ baked: v === "baked" })} />;
}
