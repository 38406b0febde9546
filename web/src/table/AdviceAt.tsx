import { memo } from "react";
import type { CostumeState, Diagnostic, Point } from "../api/types";
import { desk } from "../desk/store";
import { Tip } from "../ui/Tip";
import { atOrigin, type Camera, toScreen } from "./camera";
import { lineShape, outward, pointOn } from "./shape";
import { allLines, type ShownPattern, toTableFrame } from "./shown";

/** Where along a line its mark is, clear of the letter in the middle, and how far beside it, px. */
const SHARE = 0.28;
const BESIDE = 15;

/** Where a mark is in its layer, px: beside the first line of the finding's seam, or over the top of its piece. */
function placeOf(found: Diagnostic, pattern: ShownPattern, camera: Camera): Point | null {
  const seam = pattern.seams.find((s) => s.seam === found.seam && !s.image);
  const run = seam?.runs_a[0];
  const piece = pattern.pieces.find((p) => p.id === (run?.piece ?? found.piece));
  if (!piece) return null;
  const line = run && allLines(piece.view).find((l) => l.line === run.line);
  if (!line) {
    const tops = piece.view.outline.map((l) => toScreen(camera, toTableFrame(piece.view, l.from)));
    const top = tops.reduce((p, q) => (q.y < p.y ? q : p));
    return { x: top.x, y: top.y - BESIDE };
  }
  const shape = lineShape(piece, line, camera);
  const [at, away] = [pointOn(shape, SHARE), outward(shape)];
  return { x: at.x + BESIDE * away.x, y: at.y + BESIDE * away.y };
}

/** Told in the docket alone: they are of the whole piece, or were chosen by the designer. */
const ELSEWHERE = ["no-station", "parked-seam"];

/** What the pattern lacks, told at its place; a click selects what it is about. */
export function AdviceAt({ state, pattern, camera }: { state: CostumeState; pattern: ShownPattern; camera: Camera }) {
  const origin = toScreen(camera, { x: 0, y: 0 });
  return (
    // the marks move with their layer: panning changes none of them
    <div className="pointer-events-none absolute inset-0 z-[5]" style={{ transform: `translate(${origin.x}px, ${origin.y}px)` }}>
      <Marks diagnostics={state.diagnostics} pattern={pattern} scale={camera.scale} />
    </div>
  );
}

const Marks = memo(function Marks({ diagnostics, pattern, scale }: { diagnostics: Diagnostic[]; pattern: ShownPattern; scale: number }) {
  const camera = atOrigin(scale);
  return diagnostics.map((found) => {
    const place = ELSEWHERE.includes(found.kind.is) ? null : placeOf(found, pattern, camera);
    if (!place) return null;
    const words = `${found.item} ${found.reason}. ${found.remedy}`;
    return (
      <Tip key={`${found.item}${found.reason}`} text={words}>
        <button
          type="button"
          aria-label={words}
          data-advice={found.kind.is}
          style={{ left: place.x - 9, top: place.y - 9 }}
          className="pointer-events-auto absolute flex h-[18px] w-[18px] items-center justify-center rounded-full border border-card bg-amber font-bold text-[12px] text-card shadow"
          onPointerDown={(e) => e.stopPropagation()}
          onClick={() => desk.selectFound(found)}
        >
          !
        </button>
      </Tip>
    );
  });
});
