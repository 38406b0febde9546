import { ImagePlus } from "lucide-react";
import { bringPrint, useMotifs } from "../api/prints";
import { saidOf } from "../api/http";
import type { Fabric, Print } from "../api/types";
import { useDeskOf } from "../desk/store";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { FileField } from "../ui/FileField";
import { NumberField } from "../ui/NumberField";
import { notify } from "../ui/notices";
import { within } from "../ui/within";

const PLAIN = "-";
const OWN = "=";
/** Width of a print that was just chosen, mm. */
const FIRST = 80;

/** What is printed on a fabric: a motif or a picture, its repeat, and how it lies to the grain. */
export function PrintFields({ fabric, onChange }: { fabric: Fabric; onChange: (print: Print | null) => void }) {
  const { unit } = useDeskOf("unit");
  const motifs = useMotifs().data ?? [];
  const { print } = fabric;
  const own = print?.image !== undefined;
  const change = (part: Partial<Print>) => print && onChange({ ...print, ...part });
  const choose = (key: string) => {
    if (key === PLAIN) return onChange(null);
    if (key === OWN) return;
    const { image: _, height: __, ...kept } = print ?? { repeat: FIRST, colour: "#f4efe2" };
    onChange({ ...kept, motif: key });
  };
  const bring = async (file: File) => {
    try {
      const found = await bringPrint(file);
      const page = found.pages[0];
      const [w, h] = page?.pixels ?? [1, 1];
      const repeat = page?.dpi ? (25.4 * w) / page.dpi : (print?.repeat ?? 2 * FIRST);
      onChange({ ...(print ?? { colour: "#000000" }), motif: found.name.replace(/\.[a-z]+$/i, ""), image: found.asset, repeat: sized(repeat), height: sized((repeat * h) / Math.max(w, 1)) });
    } catch (error) {
      notify(saidOf(error, { item: file.name, reason: "could not be brought", remedy: "Bring a PNG or a JPEG" }));
    }
  };
  const options = [[PLAIN, "Nothing"] as const, ...motifs.map((m) => [m.key, m.name] as const), ...(own ? [[OWN, print.motif] as const] : [])];
  return (
    <div data-print={fabric.id}>
      <div className="flex items-center gap-2">
        <div className="min-w-0 flex-1">
          <Choice label="Print" value={own ? OWN : (print?.motif ?? PLAIN)} options={options} onChange={choose} />
        </div>
        {print && !own && (
          <input
            type="color"
            aria-label={`Colour of the print on ${fabric.name}`}
            defaultValue={print.colour}
            key={print.colour}
            onBlur={(e) => e.target.value !== print.colour && change({ colour: e.target.value })}
            className="h-6 w-6 cursor-pointer rounded border border-edge bg-transparent p-0"
          />
        )}
      </div>
      {print && (
        <>
          <NumberField label={print.once ? "Width" : "Repeat, across"} value={print.repeat} unit={unit} onChange={(mm) => change({ repeat: sized(mm), ...(print.height === undefined ? {} : { height: sized((print.height * mm) / print.repeat) }) })} />
          <NumberField label={print.once ? "Height" : "Repeat, along"} value={print.height ?? print.repeat} unit={unit} onChange={(mm) => change({ height: sized(mm) })} />
          <NumberField label="Turned" value={print.turn ?? 0} unit={unit} plain="°" step={15} onChange={(turn) => change({ turn })} />
          <Choice
            label="Lies"
            value={print.once ? "once" : print.half_drop ? "drop" : "straight"}
            options={[
              ["straight", "in rows"],
              ["drop", "in a half drop"],
              ["once", "once on a piece"],
            ]}
            onChange={(lies) => change({ half_drop: lies === "drop", once: lies === "once" })}
          />
        </>
      )}
      <FileField accept=".png,.jpg,.jpeg" mark={`bring-print-${fabric.id}`} onFile={(file) => void bring(file)}>
        {(open) => (
          <Button className="mt-1 w-full" onClick={open}>
            <ImagePlus size={14} /> Print a picture
          </Button>
        )}
      </FileField>
    </div>
  );
}

/** Limits of a repeat, mm. */
const sized = (mm: number) => within(mm, 5, 2000);
