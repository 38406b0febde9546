import { ChevronDown, ChevronRight, Plus, Trash2 } from "lucide-react";
import { Switch } from "radix-ui";
import { useState } from "react";
import type { BodyChoice, PartContact, PartShown, StandIn, StandInShape } from "../api/types";
import { withPart, withRough, withShape } from "../body/choice";
import { bodyDesk, useBody, useBodyOf } from "../body/store";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";
import type { DocketProps } from "./props";

const SHAPES = [
  ["capsule", "Capsule"],
  ["ellipsoid", "Ellipsoid"],
  ["box", "Box"],
] as const;

/** What of the body the cloth meets: parts left out, their clearance and friction, and simple shapes in their place. */
export function ContactCards({ state, actions }: DocketProps) {
  const { view, trial } = useBodyOf("view", "trial");
  const body = trial ?? state.costume.body;
  const take = (next: BodyChoice) => {
    actions.edit({ do: "choose-body", body: next });
    bodyDesk.settle(next);
  };
  return (
    <>
      <Card title="What collides">
        <p className="mb-2 text-ink-soft">Cloth passes through parts that are switched off; they are tinted blue on the stand. Head and hands switch themselves off while no cloth is near them or can fall on them.</p>
        {view?.head.parts.map((part) => (
          <Part key={part.key} part={part} own={body.contact?.parts?.[part.key]} change={(own) => take(withPart(body, part.key, own))} />
        ))}
        {view?.head.parts.length === 0 && <p>All of this figure counts.</p>}
      </Card>
      <StandInsCard body={body} take={take} />
      <RoughCard body={body} take={take} />
    </>
  );
}

function Part({ part, own, change }: { part: PartShown; own: PartContact | undefined; change: (own: PartContact | null) => void }) {
  const [open, setOpen] = useState(false);
  const now: PartContact = own ?? { left_out: part.out, offset: 0, friction: 1 };
  const special = own !== undefined && (own.offset > 0 || own.friction !== 1);
  const Chevron = open ? ChevronDown : ChevronRight;
  return (
    <div data-part={part.key} data-out={part.out}>
      <div className="flex items-center gap-1 py-0.5">
        <button type="button" className="flex flex-1 items-center gap-1 text-left" aria-expanded={open} onClick={() => setOpen(!open)}>
          <Chevron size={13} className="text-ink-soft" /> <span className={part.out ? "text-ink-soft" : ""}>{part.name}</span>
          {special && <span className="figures ml-1 text-[11px] text-ink-soft">+{now.offset} mm · {now.friction}×</span>}
        </button>
        <Switch.Root
          aria-label={`${part.name} meets cloth`}
          checked={!part.out}
          onCheckedChange={(on) => change({ ...now, left_out: !on })}
          className="relative h-[18px] w-8 rounded-full bg-edge data-[state=checked]:bg-moss"
        >
          <Switch.Thumb className="block h-3.5 w-3.5 translate-x-0.5 rounded-full bg-card transition-transform data-[state=checked]:translate-x-[15px]" />
        </Switch.Root>
      </div>
      {open && (
        <div className="mb-1 ml-4 border-edge border-l pl-2.5">
          <NumberField label="Clearance" value={now.offset} unit="cm" plain="mm" step={1} narrow onChange={(offset) => change({ ...now, offset })} />
          <NumberField label="Friction" value={now.friction} unit="cm" plain="×" step={0.1} narrow onChange={(friction) => change({ ...now, friction })} />
          {own && (
            <button type="button" className="py-1 text-ink-soft underline" onClick={() => change(null)}>
              As usual again
            </button>
          )}
        </div>
      )}
    </div>
  );
}

/** Places of the skin where cloth slides less, or more, drawn with a brush. */
function RoughCard({ body, take }: { body: BodyChoice; take: (next: BodyChoice) => void }) {
  const { roughing } = useBodyOf("roughing");
  const unit = useDesk((s) => s.unit);
  const spots = body.contact?.rough ?? [];
  const brush = roughing ?? { radius: 40, friction: 3 };
  return (
    <Card title="Rough skin">
      <p className="mb-2 text-ink-soft">{roughing ? "Draw on the body. Cloth slides there as much less as the friction says." : "Where cloth slides less, or more, than on the rest of the skin."}</p>
      {roughing && (
        <>
          <NumberField label="Radius" value={brush.radius} unit={unit} onChange={(radius) => useBody.setState({ roughing: { ...brush, radius: Math.min(1000, Math.max(1, radius)) } })} />
          <NumberField label="Friction" value={brush.friction} unit={unit} plain="×" step={0.5} onChange={(friction) => useBody.setState({ roughing: { ...brush, friction: Math.min(10, Math.max(0, friction)) } })} />
        </>
      )}
      <div className="mt-1 flex flex-wrap gap-2">
        <Button data-roughen aria-pressed={roughing !== null} onClick={() => useBody.setState({ roughing: roughing ? null : brush, shape: null })}>
          {roughing ? "Done" : "Draw on the body"}
        </Button>
        {spots.length > 0 && (
          <Button data-smooth-skin onClick={() => take(withRough(body, []))}>
            All smooth again
          </Button>
        )}
      </div>
    </Card>
  );
}

function StandInsCard({ body, take }: { body: BodyChoice; take: (next: BodyChoice) => void }) {
  const { view, shape: selected } = useBodyOf("view", "shape");
  const unit = useDesk((s) => s.unit);
  const shapes = body.contact?.shapes ?? [];
  const chosen = selected === null ? undefined : shapes[selected];
  const bones = [["", "The stand"] as const, ...(view?.head.bones ?? []).map((b) => [b.key, b.name] as const)];
  const add = () => {
    const bone = view?.head.bones.find((b) => b.key === "pelvis") ?? view?.head.bones[0];
    const at = bone ? undo(bone.at, bone.rotation, bone.shift).map((v) => Math.round(v * 1000)) : [0, 1000, 0];
    const made: StandIn = { shape: "capsule", bone: bone?.key ?? "", at: at as StandIn["at"], turn: [0, 0, 0], size: [120, 160, 120] };
    take(withShape(body, shapes.length, made));
    useBody.setState({ shape: shapes.length });
  };
  const change = (next: StandIn) => selected !== null && take(withShape(body, selected, next));
  return (
    <Card title="Stand-ins">
      <p className="mb-2 text-ink-soft">Simple shapes that cloth meets, carried by a bone: a bustle, padding, or a smooth stand-in for a hand.</p>
      {shapes.map((s, i) => (
        <button key={`${i}-${s.shape}`} type="button" data-stand-in={i} aria-pressed={i === selected} onClick={() => useBody.setState({ shape: i === selected ? null : i })} className={`-mx-1.5 flex w-[calc(100%+12px)] justify-between rounded-md px-1.5 py-1 ${i === selected ? "bg-tape" : "hover:bg-paper"}`}>
          <span>{SHAPES.find(([key]) => key === s.shape)?.[1]}</span>
          <span className="text-ink-soft">{bones.find(([key]) => key === s.bone)?.[1] ?? s.bone}</span>
        </button>
      ))}
      <Button className="mt-1.5 w-full" data-add-stand-in onClick={add}>
        <Plus size={14} /> Add a stand-in
      </Button>
      {chosen && (
        <div className="mt-2 border-edge border-t pt-2">
          <Choice<StandInShape> label="Shape" value={chosen.shape} options={SHAPES} onChange={(shape) => change({ ...chosen, shape })} />
          <Choice label="Carried by" value={chosen.bone || "-"} options={bones.map(([key, name]) => [key || "-", name] as const)} onChange={(bone) => change({ ...chosen, bone: bone === "-" ? "" : bone })} />
          {["Width", "Height", "Depth"].map((name, k) => (
            <NumberField key={name} label={name} value={2 * (chosen.size[k] ?? 0)} unit={unit} step={10} narrow onChange={(v) => change({ ...chosen, size: chosen.size.map((old, i) => (i === k ? v / 2 : old)) as StandIn["size"] })} />
          ))}
          {["To its left", "Up", "To the front"].map((name, k) => (
            <NumberField key={name} label={name} value={chosen.at[k] ?? 0} unit={unit} step={5} narrow onChange={(v) => change({ ...chosen, at: chosen.at.map((old, i) => (i === k ? v : old)) as StandIn["at"] })} />
          ))}
          <Button
            className="mt-1.5 w-full"
            data-remove-stand-in
            onClick={() => {
              if (selected !== null) take(withShape(body, selected, null));
              useBody.setState({ shape: null });
            }}
          >
            <Trash2 size={14} /> Remove
          </Button>
        </div>
      )}
    </Card>
  );
}

/** A point on the stand, carried back into the neutral pose. */
function undo(at: number[], rotation: number[], shift: number[]): [number, number, number] {
  const [x, y, z] = [0, 1, 2].map((k) => (at[k] ?? 0) - (shift[k] ?? 0)) as [number, number, number];
  const [a, b, c, w] = [-(rotation[0] ?? 0), -(rotation[1] ?? 0), -(rotation[2] ?? 0), rotation[3] ?? 1];
  // q v q* for the inverse rotation
  const t = [2 * (b * z - c * y), 2 * (c * x - a * z), 2 * (a * y - b * x)] as const;
  return [x + w * t[0] + b * t[2] - c * t[1], y + w * t[1] + c * t[0] - a * t[2], z + w * t[2] + a * t[1] - b * t[0]];
}
