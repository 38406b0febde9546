import { Box, Circle, Cylinder, Minus, Plus, Trash2, Upload } from "lucide-react";
import { useState } from "react";
import { postFile, saidOf } from "../api/http";
import type { CostumeState, HeldLine, Prop, PropKey, PropShape } from "../api/types";
import { useBody } from "../body/store";
import { useDesk } from "../desk/store";
import { lineTitle } from "../table/shown";
import { notify } from "../ui/notices";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { FileField } from "../ui/FileField";
import { NumberField } from "../ui/NumberField";
import { Tip } from "../ui/Tip";
import type { Unit } from "../ui/units";
import { Card } from "./Card";
import { within } from "../ui/within";

const MOST = 16;

/** Half of its height, m. */
function half(shape: PropShape): number {
  if (shape === "plane") return 0;
  if ("box" in shape) return 0.5 * shape.box.size[1];
  if ("cylinder" in shape) return 0.5 * shape.cylinder.height;
  if ("ring" in shape) return 0.5 * shape.ring.thickness;
  return Math.max(...shape.mesh.positions.map((p) => p[1]));
}

interface Props {
  state: CostumeState;
  things: Prop[];
  unit: Unit;
  set: (things: Prop[]) => void;
}

/** What stands, slides or turns beside the body in this motion: each thing with its size and its places over time. */
export function ThingsCard({ state, things, unit, set }: Props) {
  const [open, setOpen] = useState(0);
  const at = Math.min(open, things.length - 1);
  const thing = things[at];
  const free = (stem: string) => {
    const taken = things.map((t) => t.name);
    for (let n = 1; ; n++) {
      const name = n === 1 ? stem : `${stem} ${n}`;
      if (!taken.includes(name)) return name;
    }
  };
  const add = (stem: string, shape: PropShape) => {
    set([...things, { name: free(stem), shape, keys: [{ time: 0, at: [0, half(shape), -0.6], turn: 0 }] }]);
    setOpen(things.length);
  };
  const bring = async (file: File) => {
    try {
      add(file.name.replace(/\.[^.]*$/, ""), await postFile<PropShape>(`/api/props?name=${encodeURIComponent(file.name)}`, file));
    } catch (error) {
      notify(saidOf(error, { item: file.name, reason: "could not be read", remedy: "bring an OBJ, GLB, PLY or USD text file" }));
    }
  };
  const change = (next: Prop) => set(things.map((t, k) => (k === at ? next : t)));
  return (
    <Card title="Things beside the body">
      {things.length === 0 && <p className="text-ink-soft">None but what belongs to the motion. A seat, a post or a step can stand here, or come and go.</p>}
      {things.map((t, k) => (
        <div key={t.name} className={`-mx-1.5 flex items-center rounded-md px-1.5 ${k === at ? "bg-tape" : "hover:bg-paper"}`} data-thing={t.name}>
          <button type="button" className="min-w-0 flex-1 truncate py-1 text-left" aria-pressed={k === at} onClick={() => setOpen(k)}>
            {t.name}
          </button>
          <button type="button" aria-label={`Take ${t.name} away`} className="grid h-7 w-7 place-items-center rounded-md hover:bg-ink/5" onClick={() => set(things.filter((o) => o !== t))}>
            <Trash2 size={13} />
          </button>
        </div>
      ))}
      {thing && <p className="mt-1 text-ink-soft">{thing.rides ? "It goes with the body in the next rehearsal." : "It stands on the floor of the next rehearsal."}</p>}
      {thing && <Thing key={thing.name} state={state} thing={thing} unit={unit} change={change} />}
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button className="px-2" disabled={things.length >= MOST} data-add-box onClick={() => add("Box", { box: { size: [0.45, 0.45, 0.45] } })}>
          <Box size={14} /> Box
        </Button>
        <Button className="px-2" disabled={things.length >= MOST} onClick={() => add("Post", { cylinder: { radius: 0.05, height: 1 } })}>
          <Cylinder size={14} /> Post
        </Button>
        <Tip text="A rod bent to a circle that lies level: a belt, a hoop, a ring in the hand">
          <Button className="px-2" disabled={things.length >= MOST} data-add-ring onClick={() => add("Ring", { ring: { radius: 0.16, thickness: 0.012 } })}>
            <Circle size={14} /> Ring
          </Button>
        </Tip>
        <Tip text="A level without end, solid below">
          <Button className="px-2" disabled={things.length >= MOST} onClick={() => add("Level", "plane")}>
            <Minus size={14} /> Level
          </Button>
        </Tip>
        <FileField accept=".obj,.glb,.gltf,.ply,.usda,.abc" mark="prop-file" onFile={(file) => void bring(file)}>
          {(choose) => (
            <Button className="px-2" disabled={things.length >= MOST} onClick={choose}>
              <Upload size={14} /> Mesh…
            </Button>
          )}
        </FileField>
      </div>
    </Card>
  );
}

/** One thing: its size, and where it is when. Lengths are shown in the designer's unit and kept in metres. */
function Thing({ state, thing, unit, change }: { state: CostumeState; thing: Prop; unit: Unit; change: (next: Prop) => void }) {
  const [picked, setPicked] = useState(0);
  const { shape, keys } = thing;
  const k = Math.min(picked, keys.length - 1);
  const key = keys[k];
  const size = (metres: number) => within(metres, 0.005, 5);
  // what stands on the floor goes on standing there
  const reshape = (next: PropShape) => change({ ...thing, shape: next, keys: keys.map((o) => ({ ...o, at: [o.at[0], o.at[1] - half(shape) + half(next), o.at[2]] })) });
  const move = (part: Partial<PropKey>) => {
    if (!key) return;
    const next = { ...key, ...part };
    if (part.time !== undefined && keys.some((o, n) => n !== k && Math.abs(o.time - next.time) < 0.01)) return;
    const sorted = keys.map((o, n) => (n === k ? next : o)).sort((a, b) => a.time - b.time);
    change({ ...thing, keys: sorted });
    setPicked(sorted.indexOf(next));
  };
  const place = (axis: number, metres: number) => key && move({ at: key.at.map((v, n) => (n === axis ? within(metres, -50, 50) : v)) as PropKey["at"] });
  const add = () => {
    const last = keys.at(-1);
    if (!last) return;
    change({ ...thing, keys: [...keys, { ...last, time: last.time + 1 }] });
    setPicked(keys.length);
  };
  return (
    <div className="mt-1 border-edge border-t pt-1" data-thing-open={thing.name}>
      {shape !== "plane" && "box" in shape && (["Width", "Height", "Depth"] as const).map((label, n) => <NumberField key={label} label={label} value={1000 * (shape.box.size[n] ?? 0)} unit={unit} onChange={(mm) => reshape({ box: { size: shape.box.size.map((v, o) => (o === n ? size(mm / 1000) : v)) as [number, number, number] } })} />)}
      {shape !== "plane" && "cylinder" in shape && (
        <>
          <NumberField label="Across" value={2000 * shape.cylinder.radius} unit={unit} onChange={(mm) => reshape({ cylinder: { ...shape.cylinder, radius: size(mm / 2000) } })} />
          <NumberField label="Height" value={1000 * shape.cylinder.height} unit={unit} onChange={(mm) => reshape({ cylinder: { ...shape.cylinder, height: size(mm / 1000) } })} />
        </>
      )}
      {shape !== "plane" && "ring" in shape && (
        <>
          <NumberField label="Across" value={2000 * shape.ring.radius} unit={unit} onChange={(mm) => reshape({ ring: { ...shape.ring, radius: size(mm / 2000) } })} />
          <NumberField label="Thick" value={1000 * shape.ring.thickness} unit={unit} onChange={(mm) => reshape({ ring: { ...shape.ring, thickness: size(mm / 1000) } })} />
        </>
      )}
      <GoesWith thing={thing} change={change} />
      <Holds state={state} thing={thing} change={change} />
      <div className="mt-1 flex flex-wrap items-center gap-1" role="tablist" aria-label={`Places of ${thing.name}`}>
        {keys.map((o, n) => (
          <button key={o.time} type="button" role="tab" aria-selected={n === k} className={`figures rounded-md border px-1.5 py-0.5 ${n === k ? "border-ink bg-white" : "border-edge hover:bg-paper"}`} onClick={() => setPicked(n)}>
            {Number(o.time.toFixed(2))} s
          </button>
        ))}
        <Tip text="Another place, a second later">
          <button type="button" aria-label="Another place, a second later" data-thing-key className="grid h-7 w-7 place-items-center rounded-md hover:bg-ink/5" onClick={add}>
            <Plus size={14} />
          </button>
        </Tip>
        {keys.length > 1 && (
          <button type="button" aria-label="Take this place away" className="grid h-7 w-7 place-items-center rounded-md hover:bg-ink/5" onClick={() => change({ ...thing, keys: keys.filter((o) => o !== key) })}>
            <Trash2 size={13} />
          </button>
        )}
      </div>
      {key && (
        <>
          <NumberField label="At" value={key.time} unit={unit} plain="s" step={0.5} onChange={(time) => move({ time: within(time, -60, 600) })} />
          <NumberField label="To its left" value={1000 * key.at[0]} unit={unit} onChange={(mm) => place(0, mm / 1000)} />
          <NumberField label="Above the floor" value={1000 * (key.at[1] - half(shape))} unit={unit} onChange={(mm) => place(1, mm / 1000 + half(shape))} />
          <NumberField label="In front" value={1000 * key.at[2]} unit={unit} onChange={(mm) => place(2, mm / 1000)} />
          <NumberField label="Turned" value={key.turn ?? 0} unit={unit} plain="°" step={15} onChange={(turn) => move({ turn: within(turn, -3600, 3600) })} />
        </>
      )}
    </div>
  );
}

/** The bone that a thing goes with, if any. A ring that begins to go with one is laid around it as the body stands. */
function GoesWith({ thing, change }: { thing: Prop; change: (next: Prop) => void }) {
  const view = useBody((s) => s.view);
  const bones = view?.head.bones ?? [];
  const options = [["-", "nothing"] as const, ...bones.map((b) => [b.key, b.name] as const)];
  const go = (key: string) => {
    const { rides: _, ...alone } = thing;
    const bone = bones.find((b) => b.key === key);
    if (!bone) return change(alone);
    const at = thing.keys.length === 1 && thing.shape !== "plane" && "ring" in thing.shape ? bone.at : null;
    change({ ...alone, rides: key, keys: thing.keys.map((k) => (at ? { ...k, at: [at[0], at[1], at[2]] } : k)) });
  };
  return <Choice label="Goes with" value={thing.rides ?? "-"} options={options} onChange={go} />;
}

/** Edges of the cloth that are held to a thing, as they lie when the rehearsal begins. */
function Holds({ state, thing, change }: { state: CostumeState; thing: Prop; change: (next: Prop) => void }) {
  const selection = useDesk((s) => s.selection);
  const held = thing.holds ?? [];
  const picked = selection?.kind === "edge" && !held.some((h) => h.piece === selection.piece && h.line === selection.line) ? selection : null;
  const nameOf = (line: HeldLine) => {
    const piece = state.costume.pieces.find((p) => p.id === line.piece);
    const view = state.pattern.pieces.find((v) => v.piece === line.piece);
    return piece && view ? `${piece.name}, ${lineTitle(view, line.line).toLowerCase()}` : "an edge that is gone";
  };
  const set = (holds: HeldLine[]) => change({ ...thing, holds });
  return (
    <div className="my-1" data-holds={held.length}>
      {held.map((h) => (
        <div key={`${h.piece} ${h.line}`} className="flex items-center">
          <span className="min-w-0 flex-1 truncate">Holds {nameOf(h)}</span>
          <button type="button" aria-label={`Let ${nameOf(h)} go`} className="grid h-7 w-7 place-items-center rounded-md hover:bg-ink/5" onClick={() => set(held.filter((o) => o !== h))}>
            <Trash2 size={13} />
          </button>
        </div>
      ))}
      {picked ? (
        <Button data-hold-edge onClick={() => set([...held, { piece: picked.piece, line: picked.line }])}>
          Hold {nameOf(picked)}
        </Button>
      ) : (
        held.length === 0 && <p className="text-ink-soft">Pick an edge on the table to hang it on this thing.</p>
      )}
    </div>
  );
}
