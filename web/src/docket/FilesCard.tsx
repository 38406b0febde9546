import { Download, Upload } from "lucide-react";
import { create } from "zustand";
import { isAway, postFile, Refused } from "../api/http";
import type { ReadPieces } from "../api/types";
import { desk } from "../desk/store";
import { besideAll } from "../table/shown";
import { Button } from "../ui/Button";
import { FileField } from "../ui/FileField";
import { notify } from "../ui/notices";
import { Card } from "./Card";
import type { DocketProps } from "./props";

/** What the last file of each costume held and was not understood; the docket shows other cards in between. */
const useLeftOut = create<Record<number, string[]>>(() => ({}));
const nothing: string[] = [];

/** The costume and its flat pieces as files, and pieces from the files of other programs. */
export function FilesCard({ state, actions }: Pick<DocketProps, "state" | "actions">) {
  const read = async (file: File) => {
    const at = besideAll(state);
    try {
      const found = await postFile<ReadPieces>(`/api/patterns?name=${encodeURIComponent(file.name)}&x=${at.x}&y=${at.y}`, file);
      useLeftOut.setState({ [state.id]: found.left_out });
      actions.edit(found.edit);
      notify({ item: file.name, reason: `${found.pieces} ${found.pieces === 1 ? "piece" : "pieces"} read`, remedy: found.left_out.length > 0 ? "What was not understood is listed in the docket" : "Nothing was left out" }, { good: true });
      window.setTimeout(desk.fitAll, 400);
    } catch (error) {
      notify(error instanceof Refused && !isAway(error) ? error.refusal : { item: file.name, reason: "could not be read", remedy: "Try again when the server answers" });
    }
  };
  const row = "flex items-center gap-1.5 py-0.5 text-ink-soft hover:text-ink hover:underline";
  return (
    <Card title="Files">
      <FileField accept=".svg,.dxf" mark="pattern-file" onFile={(file) => void read(file)}>
        {(open) => (
          <button type="button" className={row} onClick={open} data-read-pieces>
            <Upload size={14} /> Read pieces from SVG or DXF
          </button>
        )}
      </FileField>
      <a href={`/api/costumes/${state.id}/file`} className={row}>
        <Download size={14} /> Save as a costume file
      </a>
      {state.costume.pieces.length > 0 &&
        (["svg", "dxf"] as const).map((kind) => (
          <a key={kind} href={`/api/costumes/${state.id}/pattern.${kind}`} className={row}>
            <Download size={14} /> Save the pieces as {kind.toUpperCase()} at true scale
          </a>
        ))}
    </Card>
  );
}

/** What the file that was read last held besides, until it is closed. */
export function LeftOutCard({ state }: Pick<DocketProps, "state">) {
  const leftOut = useLeftOut((s) => s[state.id]) ?? nothing;
  if (leftOut.length === 0) return null;
  return (
    <Card title="Not read from the file">
      <ul className="list-disc pl-4 text-[12px] text-ink-soft" data-left-out>
        {leftOut.slice(0, 30).map((l) => (
          <li key={l}>{l}</li>
        ))}
        {leftOut.length > 30 && <li>and {leftOut.length - 30} more</li>}
      </ul>
      <Button className="mt-2" onClick={() => useLeftOut.setState({ [state.id]: nothing })}>
        Close
      </Button>
    </Card>
  );
}
