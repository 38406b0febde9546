import { Download, Upload } from "lucide-react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState, PaintKind, PaintUse } from "../api/types";
import { selectedPiece, useDeskOf } from "../desk/store";
import { type PaintWith, useDraft } from "../table/draft";
import { greyPicture, saveMap } from "../table/maps";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { FileField } from "../ui/FileField";
import { NumberField } from "../ui/NumberField";
import { notify } from "../ui/notices";
import { Card } from "./Card";
import { HoldFields } from "./HoldFields";
import { within } from "../ui/within";

const KINDS: [PaintKind, string][] = [
  ["skin", "held to the skin"],
  ["grip", "rough, slides less"],
  ["carried", "carried in motion"],
];
const WITHS: [PaintWith, string][] = [
  ["brush", "brush"],
  ["rub-out", "rubber"],
  ["gradient", "gradient along a line"],
];

/** The brush, and what the map of the piece in hand means. */
export function PaintCard({ state, actions }: { state: CostumeState; actions: CostumeActions }) {
  const { unit, selection } = useDeskOf("unit", "selection");
  const draft = useDraft();
  const set = useDraft.setState;
  const kind = draft.paintKind;
  const piece = selectedPiece(selection);
  const view = state.pattern.pieces.find((p) => p.piece === piece);
  const map = view?.paint.find((p) => kind in p.purpose);
  const stroke = (stroke: Parameters<typeof painted>[1]) => piece !== null && actions.edit(painted(kind, stroke, piece));
  const means = (purpose: PaintUse) => piece !== null && actions.edit({ do: "set-paint", piece, purpose });
  const picture = async (file: File) => {
    try {
      stroke({ with: "picture", image: await greyPicture(file) });
    } catch {
      notify({ item: file.name, reason: "is no picture that can be read here", remedy: "choose a PNG, JPEG or WebP" });
    }
  };
  return (
    <Card title="Paint">
      <Choice label="Map" value={kind} options={KINDS} onChange={(paintKind) => set({ paintKind })} />
      <Choice label="With" value={draft.paintWith} options={WITHS} onChange={(paintWith) => set({ paintWith })} />
      {draft.paintWith !== "gradient" && <NumberField label="Radius" value={draft.brush} unit={unit} onChange={(brush) => set({ brush: within(brush, 1, 1000) })} />}
      {draft.paintWith !== "rub-out" && <NumberField label="How much" value={draft.brushValue} unit={unit} plain="%" step={10} onChange={(v) => set({ brushValue: within(v, 0, 100) })} />}
      {draft.paintWith !== "gradient" && <NumberField label="Soft rim" value={draft.brushSoft} unit={unit} plain="%" step={10} onChange={(v) => set({ brushSoft: within(v, 0, 100) })} />}
      {piece === null || !view ? (
        <p className="mt-1 text-ink-soft">Draw on a piece of the table; select one to fill it.</p>
      ) : (
        <>
          <div className="mt-2 flex flex-wrap gap-2">
            <Button data-paint-fill onClick={() => stroke({ with: "fill", value: draft.brushValue / 100 })}>Fill</Button>
            <Button disabled={!map} onClick={() => stroke({ with: "smooth", radius: Math.max(5, draft.brush / 3) })}>Smooth</Button>
            <Button disabled={!map} onClick={() => actions.edit({ do: "remove-paint", piece, kind })}>Clear</Button>
            <FileField accept="image/*" mark="paint-picture" onFile={(file) => void picture(file)}>
              {(open) => (
                <Button onClick={open}>
                  <Upload size={14} /> Picture in…
                </Button>
              )}
            </FileField>
            <Button disabled={!map} onClick={() => map && saveMap(map.image, `${state.costume.pieces.find((p) => p.id === piece)?.name ?? "piece"} ${kind}`)}>
              <Download size={14} /> Picture out
            </Button>
          </div>
          {map && "skin" in map.purpose && (
            <div className="mt-2 border-edge border-t pt-2" data-paint-means>
              <HoldFields hold={map.purpose.skin} unit={unit} shapes={state.costume.body.contact?.shapes ?? []} change={(skin) => means({ skin })} />
            </div>
          )}
          {map && "carried" in map.purpose && <NumberField label="Leash" value={map.purpose.carried.leash} unit={unit} onChange={(leash) => means({ carried: { leash: within(leash, 1, 1000) } })} />}
          {map && "grip" in map.purpose && <NumberField label="Friction" value={map.purpose.grip.factor} unit={unit} plain="×" step={0.5} onChange={(factor) => means({ grip: { factor } })} />}
        </>
      )}
    </Card>
  );
}

type Edit = Parameters<CostumeActions["edit"]>[0];
type Stroke = Extract<Edit, { do: "paint" }>["stroke"];

const painted = (kind: PaintKind, stroke: Stroke, piece: number): Edit => ({ do: "paint", piece, kind, stroke });
