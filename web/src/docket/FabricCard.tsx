import { BookmarkMinus, BookmarkPlus, ChevronDown, ChevronRight, FlaskConical, RotateCcw } from "lucide-react";
import { useState } from "react";
import { type CostumeActions, useBookActions, useSwatches } from "../api/costume";
import type { ClothValue, Fabric, OwnSwatch, Swatch } from "../api/types";
import { useSheets } from "../commands/sheets";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { Card, Row } from "./Card";
import { LabNumbersForm } from "./LabNumbersForm";
import { PrintFields } from "./PrintFields";
import { SamplePicture } from "./SamplePicture";

/** The swatch's value of a key such as `bend-warp`. */
const ofSwatch = (swatch: Swatch, key: string) => swatch[key.replace("-", "_") as keyof Swatch] as number;

/** Whether a fabric has the cloth of an own swatch; its colour may be another. */
const isOf = (fabric: Fabric, { fabric: kept }: OwnSwatch) => kept.swatch === fabric.swatch && JSON.stringify(sorted(kept.own)) === JSON.stringify(sorted(fabric.own));
const sorted = (own: Fabric["own"]) => Object.entries(own ?? {}).sort(([a], [b]) => a.localeCompare(b));

/** A fabric of the costume: its swatch, colour and physical values, each of which may be its own. */
export function FabricCard({ fabric, actions }: { fabric: Fabric; actions: CostumeActions }) {
  const book = useSwatches();
  const keeping = useBookActions();
  const [open, setOpen] = useState(false);
  const [asking, setAsking] = useState(false);
  const [lab, setLab] = useState(false);
  const swatch = book.data?.swatches.find((s) => s.key === fabric.swatch);
  const own = fabric.own ?? {};
  const kept = book.data?.own.filter((k) => isOf(fabric, k)) ?? [];
  const mine = kept.find((k) => k.fabric.name === fabric.name) ?? kept[0];
  const change = (part: Partial<Pick<Fabric, "swatch" | "colour" | "name" | "own" | "print">>) => {
    const next = { ...fabric, ...part };
    actions.edit({ do: "change-fabric", fabric: fabric.id, name: next.name, swatch: next.swatch, colour: next.colour, print: next.print, ...(Object.keys(next.own ?? {}).length > 0 ? { own: next.own } : {}) });
  };
  const value = (key: string) => (swatch ? (own[key] ?? ofSwatch(swatch, key)) : 0);
  const Chevron = open ? ChevronDown : ChevronRight;
  return (
    <Card
      title={fabric.name}
      mark={
        <input
          type="color"
          aria-label={`Colour of ${fabric.name}`}
          defaultValue={fabric.colour}
          key={fabric.colour}
          onBlur={(e) => e.target.value !== fabric.colour && change({ colour: e.target.value })}
          className="h-6 w-6 cursor-pointer rounded border border-edge bg-transparent p-0"
        />
      }
    >
      {book.data && (
        <Choice
          label="Swatch"
          value={mine ? ownKey(mine) : fabric.swatch}
          options={[...book.data.own.map((k) => [ownKey(k), `${k.fabric.name} · own`] as const), ...book.data.swatches.map((s) => [s.key, s.name] as const)]}
          onChange={(key) => {
            const chosen = book.data.own.find((k) => ownKey(k) === key)?.fabric;
            change(chosen ? { name: chosen.name, swatch: chosen.swatch, own: chosen.own ?? {}, colour: chosen.colour, print: chosen.print } : { swatch: key, own: {} });
          }}
        />
      )}
      {swatch && (
        <>
          <SamplePicture fabric={fabric} />
          <PrintFields fabric={fabric} onChange={(print) => change({ print })} />
          <Row name="Weight" value={`${value("density")} g/m²`} />
          <Row name="Stretch" value={`${value("stretch-warp")} / ${value("stretch-weft")} N/m`} />
          <Row name="Bend" value={`${value("bend-warp")} / ${value("bend-weft")} µN·m`} />
          <Row name="Thickness" value={`${value("thickness")} mm`} />
          <button type="button" className="mt-1 flex items-center gap-1 font-medium" aria-expanded={open} data-own-values={fabric.id} onClick={() => setOpen(!open)}>
            <Chevron size={14} /> Own values
            {Object.keys(own).length > 0 && <span className="figures text-[11px] text-amber">{Object.keys(own).length} changed</span>}
          </button>
        </>
      )}
      {swatch && (
        <button type="button" className="mt-1 flex items-center gap-1 font-medium" aria-expanded={lab} data-lab-open={fabric.id} onClick={() => setLab(!lab)}>
          {lab ? <ChevronDown size={14} /> : <ChevronRight size={14} />} From lab numbers
        </button>
      )}
      {swatch && (
        <button type="button" className="mt-1 flex items-center gap-1 font-medium" data-open-laboratory onClick={() => useSheets.setState({ open: "laboratory" })}>
          <FlaskConical size={14} /> All cloths in the laboratory
        </button>
      )}
      {lab && swatch && <LabNumbersForm swatch={fabric.swatch} take={(values) => change({ own: values })} />}
      {open && swatch && book.data && (
        <div className="mt-1">
          {book.data.values.map((v) => (
            <OwnValue key={v.key} offer={v} value={value(v.key)} changed={own[v.key] !== undefined} onChange={(next) => change({ own: { ...own, [v.key]: next } })} />
          ))}
          <Button className="mt-2 w-full" disabled={Object.keys(own).length === 0} onClick={() => change({ own: {} })}>
            <RotateCcw size={14} /> As in the swatch book
          </Button>
          {mine ? (
            <Button className="mt-2 w-full" data-book="remove" onClick={() => keeping.remove(mine)}>
              <BookmarkMinus size={14} /> Take out of the book
            </Button>
          ) : (
            <Button className="mt-2 w-full" data-book="keep" disabled={Object.keys(own).length === 0} onClick={() => setAsking(true)}>
              <BookmarkPlus size={14} /> Keep in the swatch book
            </Button>
          )}
          {asking && (
            <AskName
              title="Keep in the swatch book"
              label="Name of the cloth, for all costumes; one of the same name is replaced"
              start={fabric.name}
              confirm="Keep"
              onDone={(name) => {
                keeping.keep({ ...fabric, name });
                if (name !== fabric.name) change({ name });
              }}
              onClose={() => setAsking(false)}
            />
          )}
        </div>
      )}
    </Card>
  );
}

const ownKey = (own: OwnSwatch) => `own ${own.id}`;

function OwnValue({ offer, value, changed, onChange }: { offer: ClothValue; value: number; changed: boolean; onChange: (value: number) => void }) {
  const step = Math.max(10 ** Math.floor(Math.log10(Math.max(value, 1e-3)) - 0.5), 0.01);
  return (
    <div className="pb-1" title={`${offer.low} to ${offer.high} ${offer.unit}`} data-own={offer.key}>
      <NumberField label={offer.name} value={value} unit="cm" plain={offer.unit} step={step} onChange={onChange} />
      <p className={`text-[11px] leading-tight ${changed ? "text-amber" : "text-ink-soft"}`}>{offer.says}</p>
    </div>
  );
}
