import { type CostumeActions, useSwatches } from "../api/costume";
import type { Fabric } from "../api/types";
import { Card, Row } from "./Card";
import { Choice } from "../ui/Choice";

/** A fabric of the costume: its swatch, colour and physical values. */
export function FabricCard({ fabric, actions }: { fabric: Fabric; actions: CostumeActions }) {
  const swatches = useSwatches();
  const swatch = swatches.data?.find((s) => s.key === fabric.swatch);
  const change = (part: Partial<Pick<Fabric, "swatch" | "colour" | "name">>) =>
    actions.edit({ do: "change-fabric", fabric: fabric.id, name: part.name ?? fabric.name, swatch: part.swatch ?? fabric.swatch, colour: part.colour ?? fabric.colour, print: fabric.print });
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
      {swatches.data && <Choice label="Swatch" value={fabric.swatch} options={swatches.data.map((s) => [s.key, s.name] as const)} onChange={(key) => change({ swatch: key })} />}
      {swatch && (
        <>
          <Row name="Weight" value={`${swatch.density} g/m²`} />
          <Row name="Stretch" value={`${swatch.stretch_warp} / ${swatch.stretch_weft} N/m`} />
          <Row name="Bend" value={`${swatch.bend_warp} / ${swatch.bend_weft} µN·m`} />
          <Row name="Thickness" value={`${swatch.thickness} mm`} />
          <p className="mt-1 text-[11px] text-ink-soft">Pairs are warp / weft.</p>
        </>
      )}
    </Card>
  );
}
