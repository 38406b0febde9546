import { Tabs } from "radix-ui";
import { CHECK_TABS, type CheckTab, checkDesk, useCheck } from "../check/store";
import type { CheckMap, CrossingPlace, GirthRow, HangReport, HemRow, StretchRow } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { SCALES } from "../stand/ramp";
import { type Checked, useDrapeOf } from "../stand/socket";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Tip } from "../ui/Tip";
import { format, formatSigned, type Unit } from "../ui/units";
import { Card, Row } from "./Card";
import { CompareCards } from "./CompareCards";
import { Findings } from "./Findings";
import { FitCards } from "./FitCards";
import { NotesCard } from "./NotesCard";
import type { DocketProps } from "./props";
import { MeshCard, SheetCard } from "./SheetCards";
import { SizeRunCards } from "./SizeRunCards";

/** What the cloth goes through at a place. */
const through = (c: CrossingPlace) => {
  if (c.pairs === 0) return "inside the body altogether";
  return c.kind === "cloth-body" ? "into the body" : c.kind === "cloth-cloth" ? "through cloth" : `through the ${c.part?.replace("-", " ")}, which is left out`;
};

const percent = (v: number) => `${(v * 100).toFixed(2)} %`;

const TAB_NAMES: Record<CheckTab, string> = { findings: "Findings", fit: "Fit", sizes: "Sizes", compare: "Compare" };

/** Judging the drape: what was found, fitting to an ease, a run over sizes, fittings beside each other. */
export function CheckCards(props: DocketProps) {
  const tab = useCheck((s) => s.tab);
  return (
    <Tabs.Root value={tab} onValueChange={(v) => checkDesk.go(v as CheckTab)} className="flex flex-col gap-2.5">
      <Tabs.List className="flex rounded-lg border border-edge bg-card p-0.5" aria-label="Check">
        {CHECK_TABS.map((key) => (
          <Tabs.Trigger key={key} value={key} data-check-tab={key} className="h-7 flex-1 rounded-md text-[12.5px] data-[state=active]:bg-tape data-[state=active]:font-semibold">
            {TAB_NAMES[key]}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value="findings" className="flex flex-col gap-2.5">
        <FindingCards {...props} />
      </Tabs.Content>
      <Tabs.Content value="fit" className="flex flex-col gap-2.5">
        <FitCards {...props} />
      </Tabs.Content>
      <Tabs.Content value="sizes" className="flex flex-col gap-2.5">
        <SizeRunCards {...props} />
      </Tabs.Content>
      <Tabs.Content value="compare" className="flex flex-col gap-2.5">
        <CompareCards {...props} />
      </Tabs.Content>
    </Tabs.Root>
  );
}

/** What the check found: crossings, the maps, girths and hems. */
function FindingCards(props: DocketProps) {
  const { state, socket } = props;
  const { checked, status } = useDrapeOf("checked", "status");
  const draped = status?.activity === "at-rest" || status?.activity === "paused";
  const notes = <NotesCard {...props} />;
  if (!checked)
    return (
      <>
        <Card title="Check">
          <p className="mb-3 text-ink-soft">{draped ? "The drape has not been checked yet." : "Drape the costume first; the check looks at the cloth as it hangs."}</p>
          <Button disabled={!draped} onClick={() => socket.send({ do: "check" })}>
            Check the drape
          </Button>
        </Card>
        {notes}
      </>
    );
  const name = (id: number) => state.costume.pieces.find((p) => p.id === id)?.name ?? "a piece";
  return (
    <>
      <Crossings crossings={checked.crossings} name={name} {...props} />
      <MapCard checked={checked} show={(map) => socket.send({ do: "map", map })} />
      {checked.bearers.length > 0 && <Bearers {...checked} />}
      {checked.girths.length > 0 && <Girths girths={checked.girths} wanted={state.costume.wanted_ease ?? {}} />}
      {checked.hems.map((hem, k) => (
        <HemCard key={`${hem.pieces.join()} ${k}`} hem={hem} name={name} />
      ))}
      <HangCards hang={checked.hang} name={name} />
      {notes}
      <SheetCard id={state.id} />
      <MeshCard id={state.id} />
    </>
  );
}

/** Most clearance that a part of the body has besides the cloth's own, and by how much one click adds, mm. */
const CLEARANCE = { most: 30, more: 2 };

/** Crossings to fly to, each with its likely cause and what brings the cloth out. */
function Crossings({ crossings, name, state, actions, socket }: { crossings: CrossingPlace[]; name: (id: number) => string } & DocketProps) {
  const { status } = useDrapeOf("status");
  const isolated = useDesk((s) => s.isolated);
  const more = (part: string) => {
    const { body } = state.costume;
    const known = body.contact?.parts ?? {};
    const now = known[part] ?? { left_out: false, offset: 0, friction: 1 };
    const parts = { ...known, [part]: { ...now, offset: Math.min(CLEARANCE.most, now.offset + CLEARANCE.more) } };
    actions.edit({ do: "choose-body", body: { ...body, contact: { ...body.contact, parts } } });
    socket.send({ do: "drape" });
  };
  return (
    <Card title="Crossings">
      <Findings findings={status?.findings ?? []} />
      <div className={`figures mb-1 text-[15px] ${crossings.length === 0 ? "text-moss" : "text-brick"}`} data-crossings={crossings.length}>
        {crossings.length === 0 ? "none found" : crossings.length === 1 ? "1 place" : `${crossings.length} places`}
      </div>
      {crossings.map((c, i) => (
        <div key={`${c.at.join()}`} className="border-edge border-t py-1 first:border-t-0">
          <button type="button" data-crossing onClick={() => desk.flyTo(c)} className="flex w-full items-center gap-2 rounded-md px-1 py-1.5 text-left hover:bg-paper">
            <span className="figures grid h-6 w-6 shrink-0 place-items-center rounded-full bg-brick text-card">{i + 1}</span>
            <span className="flex-1">
              {c.pieces.map(name).join(", ")} {through(c)}
            </span>
            <span className="figures whitespace-nowrap text-right text-[11px] text-ink-soft">
              {c.length.toFixed(0)} mm long
              <br />
              {c.depth.toFixed(1)} mm deep
            </span>
          </button>
          {c.cause && <p className="px-1 text-[12px] text-ink-soft">{c.cause}.</p>}
          {c.kind !== "cloth-left-out" && (
            <div className="mt-1 flex gap-1.5">
              <Tip text="Show only what is near, and only these pieces">
                <Button className="flex-1 px-1" data-isolate aria-pressed={isolated?.at === c.at} onClick={() => desk.isolate(c)}>
                  {isolated?.at === c.at ? "Show all" : "Alone"}
                </Button>
              </Tip>
              <Button className="flex-1 px-1" data-push-out onClick={() => socket.send({ do: "push-out", at: c.at })}>
                Push out
              </Button>
              {c.kind === "cloth-body" && c.near && (
                <Tip text={`2 mm more between the cloth and the ${c.near.replace("-", " ")}, then it drapes on`}>
                  <Button className="flex-1 px-1" data-more-clearance={c.near} onClick={() => c.near && more(c.near)}>
                    More clearance
                  </Button>
                </Tip>
              )}
            </div>
          )}
        </div>
      ))}
    </Card>
  );
}

/** Which map the stand shows, and the figures of the strain. */
function MapCard({ checked, show }: { checked: Checked; show: (map: CheckMap) => void }) {
  const mapped = useDesk((s) => s.mapped);
  return (
    <Card title="Map">
      <label className="mb-1 flex items-center gap-2">
        <input type="checkbox" data-map checked={mapped} onChange={(e) => useDesk.setState({ mapped: e.target.checked })} /> Show a map on the stand
      </label>
      <Choice label="It shows" value={checked.map} options={Object.entries(SCALES).map(([key, scale]) => [key as CheckMap, scale.name] as const)} onChange={show} />
      <div className="mt-1 border-edge border-t pt-1">
        <Row name="Tension, mean" value={percent(checked.strain_mean)} />
        <Row name="99 of 100 below" value={percent(checked.strain_p99)} />
        <Row name="Largest" value={percent(checked.strain_max)} />
      </div>
      {checked.stretch.map((row) => (
        <Stretch key={row.fabric} row={row} />
      ))}
    </Card>
  );
}

const GRADES = [
  ["comfortable", "bg-moss-pale"],
  ["tight", "bg-tape-line"],
  ["beyond its stretch", "bg-brick"],
] as const;

/** How much of a fabric is comfortable, tight, or beyond what it stretches. */
function Stretch({ row }: { row: StretchRow }) {
  const limit = (k: 0 | 1) => `${(100 * row.limits[k]).toFixed(row.limits[k] < 0.1 ? 1 : 0)} %`;
  const ranges = [`up to ${limit(0)}`, `up to ${limit(1)}`, `above ${limit(1)}`];
  return (
    <div className="mt-2 border-edge border-t pt-1.5" data-stretch={row.fabric}>
      <div className="mb-1 flex justify-between gap-2">
        <span className="truncate font-medium">{row.fabric}</span>
        <span className="text-[11px] text-ink-soft">along the threads</span>
      </div>
      <div className="flex h-2 overflow-hidden rounded-full border border-edge">
        {GRADES.map(([name, colour], k) => (
          <div key={name} className={colour} style={{ width: `${100 * (row.shares[k] ?? 0)}%` }} />
        ))}
      </div>
      {GRADES.map(([name], k) => (
        <div key={name} className="flex justify-between gap-2 text-[12px]" data-grade={name}>
          <span className="text-ink-soft">
            {name}, {ranges[k]}
          </span>
          <span className={`figures ${k === 2 && (row.shares[k] ?? 0) > 0 ? "text-brick" : ""}`}>{(100 * (row.shares[k] ?? 0)).toFixed(1)} %</span>
        </div>
      ))}
    </div>
  );
}

/** Friction above this share of what it can bear is about to give way. */
const SLIPPING = 0.85;
/** Places that bear less of the weight hold nothing up. */
const CARRIES = 0.05;

/** What carries the garment, in N and of its weight. */
function Bearers({ bearers, weight, touching, highest }: Pick<Checked, "bearers" | "weight" | "touching" | "highest">) {
  return (
    <Card title="What carries it">
      <Row name="Weight" value={`${weight.toFixed(2)} N`} />
      <Row name="Lies on the skin" value={`${touching.toFixed(0)} cm²`} />
      <Row name="Presses by up to" value={`${highest.toFixed(2)} kPa`} />
      {bearers.map((b) => (
        <div key={b.name} data-bearer={b.name}>
          <Row name={b.name} value={`${b.force.toFixed(2)} N · ${(100 * b.share).toFixed(0)} %`} />
          {b.grip !== null && b.grip > SLIPPING && b.share > CARRIES && <p className="text-[11px] text-brick">by friction alone, about to slip</p>}
        </div>
      ))}
    </Card>
  );
}

/** On which side of the wanted ease a girth is; none within it. */
function sideOf(g: GirthRow, wanted: Partial<Record<string, [number, number]>>): "tight" | "wide" | undefined {
  const range = wanted[g.measure];
  if (!range) return undefined;
  return g.ease < range[0] ? "tight" : g.ease > range[1] ? "wide" : undefined;
}

const wantedWords = (range: [number, number] | undefined, unit: Unit) => (range ? `wanted ${format(range[0], unit, false)} to ${format(range[1], unit)}` : undefined);

/** In one word where the sheet has two. */
const girthName = (g: GirthRow) => (g.name.split(" or ")[0] ?? g.name).replace(/^./, (c) => c.toUpperCase());

/** Girths by the tape over the garment, beside those of the body beneath. */
function Girths({ girths, wanted }: { girths: GirthRow[]; wanted: Partial<Record<string, [number, number]>> }) {
  const unit = useDesk((s) => s.unit);
  return (
    <Card title="Girths and ease">
      <table className="w-full">
        <thead className="text-[11px] text-ink-soft">
          <tr>
            <th className="text-left font-normal">in {unit}</th>
            <th className="text-right font-normal">garment</th>
            <th className="text-right font-normal">body</th>
            <th className="text-right font-normal">ease</th>
            <th className="text-right font-normal">%</th>
          </tr>
        </thead>
        <tbody>
          {girths.map((g) => (
            <tr key={g.measure} data-girth={g.measure} className="cursor-pointer hover:bg-paper" onClick={() => desk.flyTo(g)}>
              <th scope="row" className="py-1 text-left font-normal">
                <button type="button" className="text-left" title={g.closed ? "Look at it on the stand" : "The cloth lies open here; the tape spans the gap"}>
                  {girthName(g)}
                  {g.closed ? "" : " (open)"}
                  {(g.stretch ?? 0) >= 0.01 && <span className="block text-[11px] text-brick">stretched {(100 * (g.stretch ?? 0)).toFixed(0)} %</span>}
                </button>
              </th>
              <td className="figures pl-1.5 text-right">{format(g.garment, unit, false)}</td>
              <td className="figures pl-1.5 text-right text-ink-soft">{format(g.body, unit, false)}</td>
              <td data-side={sideOf(g, wanted)} title={wantedWords(wanted[g.measure], unit)} className={`figures pl-1.5 text-right ${g.ease < 0 || sideOf(g, wanted) ? "text-brick" : ""}`}>
                {sideOf(g, wanted) === "tight" ? "▾ " : sideOf(g, wanted) === "wide" ? "▴ " : ""}
                {formatSigned(g.ease, unit).replace(` ${unit}`, "")}
              </td>
              <td className={`figures pl-1.5 text-right ${g.ease < 0 ? "text-brick" : "text-ink-soft"}`}>{((100 * g.ease) / g.body).toFixed(0)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Card>
  );
}

/** Lengths along the cloth, balance, and lines of pull with what they point at. */
function HangCards({ hang, name }: { hang: HangReport; name: (id: number) => string }) {
  const unit = useDesk((s) => s.unit);
  return (
    <>
      <Card title="How it hangs">
        {hang.lengths.map((l) => (
          <Row key={l.name} name={l.name} value={`${format(l.length, unit)} · ${format(l.floor, unit, false)} up`} />
        ))}
        {hang.balance.map((b) => (
          <Row key={b.seam} name={`Seam ${b.seam}, out of plumb`} value={`${Math.abs(b.forward).toFixed(1)}° ${b.forward >= 0 ? "forwards" : "backwards"}`} tone={Math.abs(b.forward) > PLUMB ? "text-brick" : ""} />
        ))}
        <Row name="From its mirror image" value={`${hang.mirrored.toFixed(1)} mm`} />
        <Row name="Wrinkled" value={`${(100 * hang.wrinkled).toFixed(1)} %`} />
      </Card>
      {hang.drags.length > 0 && (
        <Card title="Lines of pull">
          {hang.drags.map((d, k) => (
            <button key={d.at.join()} type="button" data-drag={k} onClick={() => desk.flyTo(d)} className="flex w-full items-start gap-2 rounded-md px-1 py-1 text-left hover:bg-paper">
              <span className="min-w-0 flex-1">
                {d.pieces.map(name).join(", ")} <span className="text-ink-soft">{d.cause}</span>
              </span>
              <span className="figures whitespace-nowrap text-right text-[11px] text-ink-soft">
                {(100 * d.strain).toFixed(1)} %
                <br />
                {format(d.length, unit)}
              </span>
            </button>
          ))}
        </Card>
      )}
    </>
  );
}

/** A side seam that is further out of plumb wants to be looked at, degrees. */
const PLUMB = 3;

/** How level a hem hangs, and its folds. */
function HemCard({ hem, name }: { hem: HemRow; name: (id: number) => string }) {
  const unit = useDesk((s) => s.unit);
  const [front, left, back, right] = hem.heights;
  return (
    <Card title={`Hem of ${hem.pieces.map(name).join(", ")}`}>
      <Row name="Above the floor" value={format(hem.height, unit)} />
      <Row name="Front, back" value={`${format(front, unit, false)}, ${format(back, unit)}`} />
      <Row name="Left, right" value={`${format(left, unit, false)}, ${format(right, unit)}`} />
      <Row name="Out of level" value={`${hem.tilt.toFixed(1)}°`} />
      <Row name="Around" value={format(hem.length, unit)} />
      {hem.folds > 0 && (
        <>
          <Row name="Folds" value={`${hem.folds}, ${format(hem.depth, unit)} deep`} />
          <Row name="From one to the next" value={format(hem.wavelength, unit)} />
        </>
      )}
      <Row name="Left like right" value={`${(100 * hem.symmetry).toFixed(0)} %`} />
    </Card>
  );
}
