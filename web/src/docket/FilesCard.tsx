import { Download, Upload } from "lucide-react";
import { readPieces, useLeftOut } from "../table/patternFile";
import { Button } from "../ui/Button";
import { FileField } from "../ui/FileField";
import { Card } from "./Card";
import type { DocketProps } from "./props";

const nothing: string[] = [];

/** The costume and its flat pieces as files, and pieces from the files of other programs. */
export function FilesCard({ state, actions }: Pick<DocketProps, "state" | "actions">) {
  const row = "flex items-center gap-1.5 py-0.5 text-ink-soft hover:text-ink hover:underline";
  return (
    <Card title="Files">
      <FileField accept=".svg,.dxf" mark="pattern-file" onFile={(file) => void readPieces(file, state, actions)}>
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
