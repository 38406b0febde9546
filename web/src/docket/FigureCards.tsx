import { Crosshair, Upload } from "lucide-react";
import { Switch } from "radix-ui";
import { useState } from "react";
import type { Axis, BodyChoice, FigureSheet, FigureState, Flaws } from "../api/types";
import { useFigure, useFigureWork } from "../body/figure";
import { useBody } from "../body/store";
import { useDesk } from "../desk/store";
import { FileField } from "../ui/FileField";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { format } from "../ui/units";
import { Card, Row } from "./Card";

const UNITS = [
  ["1", "Metres"],
  ["0.01", "Centimetres"],
  ["0.001", "Millimetres"],
  ["0.0254", "Inches"],
  ["0.3048", "Feet"],
] as const;
const AXES = [
  ["+x", "x"],
  ["-x", "x, reversed"],
  ["+y", "y"],
  ["-y", "y, reversed"],
  ["+z", "z"],
  ["-z", "z, reversed"],
] as const;
const FLAWS: [keyof Flaws, string, string][] = [
  ["duplicates", "vertex lies on another", "vertices lie on others"],
  ["empty", "face has no area or comes twice", "faces have no area or come twice"],
  ["flipped", "face looks inwards", "faces look inwards"],
  ["holes", "hole", "holes"],
  ["crowded", "edge has too many faces", "edges have too many faces"],
  ["loose", "loose part", "loose parts"],
];

/** Takes a file with a figure in. */
export function BringFigure({ onFigure }: { onFigure: (hash: string) => void }) {
  const [busy, setBusy] = useState(false);
  const { bring } = useFigureWork();
  const take = async (file: File) => {
    setBusy(true);
    const state = await bring(file);
    setBusy(false);
    if (state) onFigure(state.hash);
  };
  return (
    <FileField accept=".obj,.glb,.gltf,.ply,.usda,.usd" mark="figure-file" onFile={(file) => void take(file)}>
      {(open) => (
        <Button className="mt-2 w-full" disabled={busy} data-bring-figure onClick={open}>
          <Upload size={14} /> {busy ? "Reading the figure…" : "Bring a figure…"}
        </Button>
      )}
    </FileField>
  );
}

/** How a figure from elsewhere stands, what is wrong with its mesh, and its landmarks. */
export function FigureCards({ body, choose }: { body: BodyChoice; choose: (next: BodyChoice) => void }) {
  const figure = useFigure(body.figure);
  const { correct } = useFigureWork();
  const unit = useDesk((s) => s.unit);
  const view = useBody((s) => s.view);
  const { data } = figure;
  if (!data) return <Card title="Figure">{figure.error ? "It is not on this server. Bring it again." : "Reading the figure…"}</Card>;
  const change = async (sheet: FigureSheet) => {
    const next = await correct(data.hash, sheet);
    if (next) choose({ ...body, figure: next.hash });
  };
  const { stance } = data.sheet;
  // landmarks found on a figure that stood otherwise are void
  const restand = (next: Partial<typeof stance>) => void change({ ...data.sheet, stance: { ...stance, ...next }, landmarks: {} });
  return (
    <>
      <Card title="Figure">
        <label className="flex items-center justify-between gap-2 py-0.5 text-ink-soft">
          Name
          <input
            key={data.hash}
            defaultValue={data.sheet.name}
            maxLength={80}
            className="h-8 w-[168px] rounded-md border border-edge bg-white px-2 text-ink"
            onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            onBlur={(e) => {
              const name = e.target.value.trim();
              if (name && name !== data.sheet.name) void change({ ...data.sheet, name });
            }}
          />
        </label>
        <NumberField label="Height" value={data.height} unit={unit} step={10} onChange={(mm) => restand({ unit: (stance.unit * mm) / data.height })} />
        <Choice label="File unit" value={String(stance.unit)} none="Own scale" options={UNITS} onChange={(u) => restand({ unit: Number(u) })} />
        <Choice<Axis> label="Up" value={stance.up} options={AXES} onChange={(up) => restand({ up })} />
        <Choice<Axis> label="Front" value={stance.front} options={AXES} onChange={(front) => restand({ front })} />
        <Row name="Triangles" value={data.triangles.toLocaleString("en")} />
        {data.contact_triangles !== data.triangles && <Row name="of them for contact" value={data.contact_triangles.toLocaleString("en")} />}
        <Row name="Bones" value={data.bones || "none"} />
      </Card>
      <MeshCard data={data} change={change} />
      <Card title="Landmarks">
        <p className="mb-2 text-ink-soft">Stations and measures follow from them. Drag them on the stand; in front and side view they go exactly where you point.</p>
        <Button className="w-full" data-find-landmarks disabled={Object.keys(data.sheet.landmarks).length === 0} onClick={() => void change({ ...data.sheet, landmarks: {} })}>
          <Crosshair size={14} /> Find them again
        </Button>
      </Card>
      <Card title="Measures">
        {view?.head.taken.map((t) => (
          <Row key={t.key} name={t.name.replace(/^./, (c) => c.toUpperCase())} value={format(t.measured, unit)} />
        ))}
      </Card>
    </>
  );
}

function MeshCard({ data, change }: { data: FigureState; change: (sheet: FigureSheet) => Promise<void> }) {
  const found = FLAWS.filter(([key]) => data.flaws[key] > 0);
  const { mended } = data.sheet;
  return (
    <Card title="Mesh">
      {found.length === 0 && <p className="text-moss">Closed, faces outwards, nothing loose.</p>}
      <ul data-flaws={found.length}>
        {found.map(([key, one, many]) => (
          <li key={key} className={`flex justify-between gap-2 py-0.5 ${mended ? "text-ink-soft line-through decoration-moss" : "text-brick"}`} data-flaw={key}>
            <span>{data.flaws[key] === 1 ? one : many}</span>
            <span className="figures">{data.flaws[key]}</span>
          </li>
        ))}
      </ul>
      {data.left_out.length > 0 && (
        <div className="mt-1 text-ink-soft" data-left-out={data.left_out.length}>
          Not taken over from the file:
          <ul className="list-disc pl-4">
            {data.left_out.map((what) => (
              <li key={what}>{what}</li>
            ))}
          </ul>
        </div>
      )}
      {found.length > 0 && (
        <label className="mt-2 flex items-center justify-between gap-2">
          {mended ? "Mended" : "Mend it"}
          <Switch.Root checked={mended} data-mend onCheckedChange={(on) => void change({ ...data.sheet, mended: on })} className="relative h-[18px] w-8 rounded-full bg-edge data-[state=checked]:bg-moss">
            <Switch.Thumb className="block h-3.5 w-3.5 translate-x-0.5 rounded-full bg-card transition-transform data-[state=checked]:translate-x-[15px]" />
          </Switch.Root>
        </label>
      )}
    </Card>
  );
}
