import { Scissors } from "lucide-react";
import { useState } from "react";
import { useBodies } from "../api/costume";
import { saidOf } from "../api/http";
import type { PaperChoice } from "../api/types";
import { useSheets } from "../commands/sheets";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { type Downloaded, download } from "../ui/download";
import { notify } from "../ui/notices";
import { NumberField } from "../ui/NumberField";
import { within } from "../ui/within";
import { BodyChecks } from "./BodyChecks";
import { Card } from "./Card";
import type { DocketProps } from "./props";

const PAPERS: [PaperChoice, string][] = [
  ["a4", "A4 sheets"],
  ["a3", "A3 sheets"],
  ["letter", "Letter sheets"],
  ["a0", "one sheet of A0"],
  ["roll", "one sheet off a roll"],
];

/** Most sizes on one paper. */
const NESTED = 10;

/** The pattern printed at true scale. */
export function PaperCard({ state }: Pick<DocketProps, "state">) {
  const unit = useDesk((s) => s.unit);
  const [paper, setPaper] = useState<PaperChoice>("a4");
  const [width, setWidth] = useState(910);
  const [sizes, setSizes] = useState<string[]>([]);
  const bodies = useBodies().data?.presets ?? [];
  const [done, setDone] = useState<Downloaded | null>(null);
  const print = async () => {
    try {
      setDone(await download(`/api/costumes/${state.id}/pattern.pdf?paper=${paper}&width=${width}&sizes=${sizes.join(",")}`));
    } catch (error) {
      notify(saidOf(error, { item: "Pattern", reason: "could not be printed", remedy: "Try again when the server answers" }));
    }
  };
  return (
    <Card title="Paper pattern">
      <p className="mb-1 text-ink-soft">At true scale, tiled with crosses by which the sheets are joined, and a square of 10 cm to measure.</p>
      <Choice label="Paper" value={paper} options={PAPERS} onChange={setPaper} />
      {paper === "roll" && <NumberField label="Width" value={width} unit={unit} step={10} onChange={(v) => setWidth(within(v, 100, 5000))} />}
      {(state.costume.blocks ?? []).length > 0 && (
        <details className="py-1">
          <summary className="cursor-pointer text-ink-soft">{sizes.length > 0 ? `${sizes.length} sizes in each other` : "Several sizes in each other"}</summary>
          <div className="mt-1 grid max-h-[140px] grid-cols-2 gap-x-2 overflow-y-auto">
            <BodyChecks bodies={bodies} chosen={sizes} most={NESTED} mark="data-nest" onChange={setSizes} />
          </div>
        </details>
      )}
      <Button className="mt-2 w-full" data-print disabled={state.costume.pieces.length === 0} onClick={() => void print()}>
        Print to PDF
      </Button>
      <Button className="mt-2 w-full" data-open-laying disabled={state.costume.pieces.length === 0} onClick={() => useSheets.setState({ open: "laying" })}>
        <Scissors size={14} /> Lay the pieces on cloth
      </Button>
      {done && (
        <p className="mt-2 flex justify-between gap-2 text-moss" data-delivered={done.name}>
          <span className="truncate">{done.name}</span> <span className="figures">{(done.size / 1024).toFixed(0)} KB</span>
        </p>
      )}
    </Card>
  );
}
