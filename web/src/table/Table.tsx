import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { CostumeActions } from "../api/costume";
import { useOutbox } from "../api/outbox";
import type { CostumeState } from "../api/types";
import { preview } from "../desk/preview";
import { desk, useDesk } from "../desk/store";
import { type Camera, fit, toScreen, zoom } from "./camera";
import { PatternPaper } from "./PatternPaper";
import { PieceShape } from "./PieceShape";
import { SeamMarks } from "./SeamMarks";
import { Sketch } from "./Sketch";
import { TableMenu } from "./TableMenu";
import { Tray } from "./Tray";
import { useHand } from "./hand";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
}

const nothingWaiting: never[] = [];

/** The flat side: pieces lying on pattern paper at true scale. */
export function Table({ state, actions }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [camera, setCamera] = useState<Camera | null>(null);
  const ahead = useDesk((s) => s.preview);
  const waiting = useOutbox((s) => s.waiting[state.id] ?? nothingWaiting);
  const costume = useMemo(() => preview(waiting.reduce((c, w) => preview(c, w.edit), state.costume), ahead), [state.costume, waiting, ahead]);

  const fits = useDesk((s) => s.fits);
  const newest = useRef(costume);
  newest.current = costume;
  const sized = useRef(size);
  sized.current = size;
  useEffect(() => {
    if (fits > 0) setCamera(fit(newest.current, sized.current.width, sized.current.height));
  }, [fits]);

  useLayoutEffect(() => {
    const frame = svg.current?.parentElement;
    if (!frame) return;
    const observer = new ResizeObserver(() => setSize({ width: frame.clientWidth, height: frame.clientHeight }));
    observer.observe(frame);
    return () => observer.disconnect();
  }, []);

  const sewn = useMemo(() => new Set(costume.seams.flatMap((s) => [...s.a, ...s.b].map((r) => r.edge))), [costume.seams]);
  const ready = size.width > 0;
  useEffect(() => {
    if (ready && !camera) setCamera(fit(costume, size.width, size.height));
  }, [ready, camera, costume, size]);

  const seen = useRef<number | null>(null);
  const count = costume.pieces.length;
  useEffect(() => {
    const piece = newest.current.pieces[count - 1];
    const added = seen.current !== null && count > seen.current;
    seen.current = count;
    if (!added || !piece || !camera) return;
    desk.select({ kind: "piece", piece: piece.id });
    const shown = piece.corners.every((c) => {
      const p = toScreen(camera, { x: c.at.x + piece.at.x, y: c.at.y + piece.at.y });
      return p.x > 0 && p.y > 0 && p.x < sized.current.width && p.y < sized.current.height;
    });
    if (!shown) desk.fitAll();
  }, [count, camera]);

  useEffect(() => {
    // on the whole table, so that what lies over the paper does not swallow the wheel
    const element = svg.current?.parentElement;
    if (!element) return;
    const onWheel = (e: WheelEvent) => {
      e.preventDefault();
      const box = element.getBoundingClientRect();
      const at = { x: e.clientX - box.left, y: e.clientY - box.top };
      setCamera((c) => c && zoom(c, at, Math.exp(-e.deltaY * 0.0016)));
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, []);

  const hand = useHand({ costume, camera, setCamera, svg, actions });
  const tool = useDesk((s) => s.tool);

  return (
    <section className="relative h-full overflow-hidden bg-sheet" aria-label="Table">
      <TableMenu costume={costume} actions={actions}>
      <svg
        ref={svg}
        width={size.width}
        height={size.height}
        data-table
        data-scale={camera?.scale}
        className={`block touch-none select-none ${tool === "pick" ? "cursor-default" : "cursor-crosshair"}`}
        onPointerDown={hand.down}
        onPointerMove={hand.move}
        onPointerUp={hand.up}
        onPointerCancel={hand.lost}
        onPointerLeave={() => useDesk.setState({ pointer: null })}
        onDoubleClick={hand.finish}
      >
        {camera && (
          <>
            <PatternPaper camera={camera} width={size.width} height={size.height} />
            {costume.pieces.map((piece) => (
              <PieceShape key={piece.id} piece={piece} fabric={costume.fabrics.find((f) => f.id === piece.fabric)} camera={camera} edges={state.edges} sewn={sewn} />
            ))}
            <SeamMarks costume={costume} camera={camera} measures={state.seams} />
            <Sketch sketch={hand.sketch} camera={camera} label={hand.label} pointer={hand.at} />
          </>
        )}
      </svg>
      </TableMenu>
      <h2 className="pointer-events-none absolute top-3 left-4 font-heading font-semibold text-[13px] text-ink-soft">Table</h2>
      {costume.pieces.length === 0 && tool !== "outline" && tool !== "band" && (
        <div className="pointer-events-none absolute inset-0 grid place-items-center">
          <button type="button" className="pointer-events-auto rounded-lg border border-edge bg-card px-5 py-3 shadow-sm" onClick={() => useDesk.setState({ stage: "draft", tool: "outline" })}>
            The table is empty. <strong className="font-semibold underline">Draw the first piece</strong>
          </button>
        </div>
      )}
      <Tray actions={actions} />
    </section>
  );
}
