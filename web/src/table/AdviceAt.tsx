import type { CostumeState, Diagnostic, Point } from "../api/types";
import { desk } from "../desk/store";
import { Tip } from "../ui/Tip";
import { type Camera, toScreen } from "./camera";
import { allLines, type ShownPattern, toTableFrame } from "./shown";

/** Where a finding is on the table: the middle of the first line of its seam, or the top of its piece. */
function placeOf(found: Diagnostic, pattern: ShownPattern): Point | null {
  const seam = pattern.seams.find((s) => s.seam === found.seam && !s.image);
  const run = seam?.runs_a[0];
  const piece = pattern.pieces.find((p) => p.id === (run?.piece ?? found.piece));
  if (!piece) return null;
  const line = run && allLines(piece.view).find((l) => l.line === run.line);
  if (line) {
    const [a, b] = line.handles ?? [line.from, line.to];
    const middle = (k: "x" | "y") => (line.from[k] + 3 * a[k] + 3 * b[k] + line.to[k]) / 8;
    return toTableFrame(piece.view, { x: middle("x"), y: middle("y") });
  }
  const top = piece.view.outline.map((l) => l.from).reduce((p, q) => (q.y > p.y ? q : p));
  return toTableFrame(piece.view, top);
}

/** What the pattern lacks, told at its place; a click selects what it is about. */
export function AdviceAt({ state, pattern, camera }: { state: CostumeState; pattern: ShownPattern; camera: Camera }) {
  return (
    <>
      {state.diagnostics.map((found) => {
        const place = found.kind.is === "no-station" ? null : placeOf(found, pattern);
        if (!place) return null;
        const p = toScreen(camera, place);
        const words = `${found.item} ${found.reason}. ${found.remedy}`;
        return (
          <Tip key={`${found.item}${found.reason}`} text={words}>
            <button
              type="button"
              aria-label={words}
              data-advice={found.kind.is}
              style={{ left: p.x - 9, top: p.y - 9 }}
              className="absolute z-[5] flex h-[18px] w-[18px] items-center justify-center rounded-full border border-card bg-amber font-bold text-[12px] text-card shadow"
              onPointerDown={(e) => e.stopPropagation()}
              onClick={() => {
                if (found.seam !== null) desk.select({ kind: "seam", seam: found.seam });
                else if (found.piece !== null) desk.select({ kind: "piece", piece: found.piece });
              }}
            >
              !
            </button>
          </Tip>
        );
      })}
    </>
  );
}
