import type { CostumeActions } from "../api/costume";
import type { Piece, PrintPlace } from "../api/types";
import { useDeskOf } from "../desk/store";
import { NumberField } from "../ui/NumberField";

/** Where the print of its fabric begins on a piece. */
export function PrintPlaceFields({ piece, once, actions }: { piece: Piece; once: boolean; actions: CostumeActions }) {
  const { unit } = useDeskOf("unit");
  const place: PrintPlace = piece.print_at ?? { at: { x: 0, y: 0 } };
  const set = (part: Partial<PrintPlace>) => actions.edit({ do: "place-print", piece: piece.id, place: { ...place, ...part } });
  return (
    <div data-print-place={piece.id}>
      <NumberField label={once ? "Print, right" : "Print moved right"} value={place.at.x} unit={unit} onChange={(x) => set({ at: { ...place.at, x } })} />
      <NumberField label={once ? "Print, up" : "Print moved up"} value={place.at.y} unit={unit} onChange={(y) => set({ at: { ...place.at, y } })} />
      <NumberField label="Print turned" value={place.turn ?? 0} unit={unit} plain="°" step={15} onChange={(turn) => set({ turn })} />
    </div>
  );
}
