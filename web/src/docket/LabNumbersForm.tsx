import { useRef, useState } from "react";
import { post, saidOf } from "../api/http";
import type { LabAsked, LabFit, LabNumbers } from "../api/types";
import { Button } from "../ui/Button";
import { notify } from "../ui/notices";
import { NumberField } from "../ui/NumberField";

/** The columns of a CSV, and the fields of the form: key, words, unit, what stands there first. */
const FIELDS = [
  ["weight", "Weight", "g/m²", 150],
  ["thickness", "Thickness", "mm", 0.4],
  ["bending_warp", "Bending length, warp", "mm", 20],
  ["bending_weft", "Bending length, weft", "mm", 18],
  ["load", "Load on strips", "N/m", 5],
  ["extension_warp", "Extension, warp", "%", 0.5],
  ["extension_weft", "Extension, weft", "%", 0.8],
  ["extension_bias", "Extension, bias", "%", 3],
  ["drape", "Drape coefficient", "%", 50],
] as const;
type Key = (typeof FIELDS)[number][0];
type Row = Record<Key, number>;

const FIRST = Object.fromEntries(FIELDS.map(([key, , , value]) => [key, value])) as Row;

/** The first row under a head of these columns; those that are missing stay as they are. */
function readCsv(text: string, now: Row): Row | null {
  const [head, row] = text.trim().split(/\r?\n/).map((line) => line.split(/[,;\t]/).map((cell) => cell.trim()));
  if (!head || !row) return null;
  const read = { ...now };
  let found = 0;
  head.forEach((name, k) => {
    const key = FIELDS.find(([key]) => key === name.toLowerCase().replaceAll(" ", "_"))?.[0];
    const value = Number(row[k]);
    if (!key || !Number.isFinite(value)) return;
    read[key] = value;
    found += 1;
  });
  return found > 0 ? read : null;
}

const numbersOf = (r: Row): LabNumbers => ({
  weight: r.weight,
  thickness: r.thickness,
  bending_length: [r.bending_warp, r.bending_weft],
  extension: [r.extension_warp, r.extension_weft],
  ...(r.extension_bias > 0 && { bias: r.extension_bias }),
  load: r.load,
  drape: r.drape,
});

/** A fabric from what a laboratory measured: typed in or from a CSV, fitted with the simulator, taken when it is near enough. */
export function LabNumbersForm({ swatch, take }: { swatch: string; take: (own: Record<string, number>) => void }) {
  const [row, setRow] = useState<Row>(FIRST);
  const [found, setFound] = useState<LabFit | null>(null);
  const [busy, setBusy] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const fit = async () => {
    setBusy(true);
    try {
      const asked: LabAsked = { swatch, numbers: numbersOf(row) };
      setFound(await post<LabFit>("/api/lab", asked));
    } catch (error) {
      notify(saidOf(error, { item: "Lab numbers", reason: "could not be fitted", remedy: "Try again" }));
    }
    setBusy(false);
  };
  return (
    <div className="mt-1" data-lab>
      {FIELDS.map(([key, name, unit]) => (
        <div key={key} data-lab-number={key}>
          <NumberField label={name} value={row[key]} unit="cm" plain={unit} step={unit === "mm" ? 0.5 : 1} onChange={(v) => setRow((r) => ({ ...r, [key]: v }))} />
        </div>
      ))}
      <p className="text-[11px] text-ink-soft">Without a bias strip write 0 there: shear is then found from the drape, less surely.</p>
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv"
        className="sr-only"
        data-lab-file
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          void chosen?.text().then((text) => {
            const read = readCsv(text, row);
            if (read) setRow(read);
            else notify({ item: chosen.name, reason: "has none of the columns", remedy: FIELDS.map(([key]) => key).join(", ") });
          });
        }}
      />
      <div className="mt-2 flex gap-2">
        <Button className="flex-1" onClick={() => file.current?.click()}>
          From CSV
        </Button>
        <Button className="flex-1" data-lab-fit disabled={busy} onClick={() => void fit()}>
          {busy ? "Testing…" : "Fit"}
        </Button>
      </div>
      {found && (
        <>
          <table className="mt-2 w-full text-[12px]" data-residuals={found.residuals.length}>
            <thead className="text-[11px] text-ink-soft">
              <tr>
                <th />
                <th className="text-right font-normal">measured</th>
                <th className="text-right font-normal">fitted</th>
                <th className="text-right font-normal">off</th>
              </tr>
            </thead>
            <tbody>
              {found.residuals.map((r) => (
                <tr key={r.name}>
                  <th scope="row" className="py-0.5 text-left font-normal text-ink-soft">
                    {r.name}
                  </th>
                  <td className="figures pl-1 text-right">{r.measured.toFixed(1)}</td>
                  <td className="figures pl-1 text-right">{r.fitted.toFixed(1)}</td>
                  <td className={`figures pl-1 text-right ${Math.abs(r.fitted / r.measured - 1) > 0.05 ? "text-brick" : ""}`}>{(100 * (r.fitted / r.measured - 1)).toFixed(0)} %</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Button className="mt-2 w-full" data-lab-take onClick={() => take(rounded(found))}>
            Take these values
          </Button>
        </>
      )}
    </div>
  );
}

/** Four figures tell a cloth. */
const rounded = ({ values }: LabFit) => Object.fromEntries(Object.entries(values).flatMap(([key, v]) => (v === undefined ? [] : [[key, Number(v.toPrecision(4))]]))) as Record<string, number>;
