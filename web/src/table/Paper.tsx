import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { CostumeActions } from "../api/costume";
import { useOutbox } from "../api/outbox";
import type { CostumeState, Point } from "../api/types";
import { desk, useDesk, usePointer } from "../desk/store";
import { trials } from "../desk/trial";
import { type Camera, fit, toScreen, zoom } from "./camera";
import { AdviceAt } from "./AdviceAt";
import { Drawing } from "./Drawing";
import { Figure } from "./Figure";
import { Hovered } from "./Hovered";
import { useHand } from "./hand";
import { Joining } from "./Joining";
import { Levels } from "./Levels";
import { NoteMarks } from "./NoteMarks";
import { Numbers } from "./Numbers";
import { PatternPaper } from "./PatternPaper";
import { Rulers, useGuidesOf } from "./Rulers";
import { Asked } from "./Asked";
import { Sketch } from "./Sketch";
import { sketch } from "./sketch";
import { newName } from "./tools/bench";
import { addDisc, addEllipse, addRectangle } from "./tools/shapes";
import { toTableFrame, useShown } from "./shown";
import { Underlays } from "./Underlays";
import { Walking } from "./Walking";
import { underlaysOf } from "./underlays";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
}

const nothingWaiting: never[] = [];

/** Paper, pieces and what is drawn over them are layers of their own: a change of one draws nothing of the others again. */
const SHEET = "pointer-events-none absolute inset-0 will-change-transform";

/** Pieces lying on pattern paper at true scale, and the hand that works on them. */
export function Paper({ state, actions }: Props) {
  const pattern = useShown(state);
  const paper = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [camera, setCamera] = useState<Camera | null>(null);
  const waiting = useOutbox((s) => (s.waiting[state.id] ?? nothingWaiting).length);
  const { pieces } = pattern;
  // what was tried out stays in sight until it is acknowledged, or refused
  // biome-ignore lint/correctness/useExhaustiveDependencies: a newer version ends a trial as well
  useEffect(() => {
    if (waiting === 0) trials.clear();
  }, [waiting, state.version]);

  const fits = useDesk((s) => s.fits);
  const newest = useRef(pieces);
  newest.current = pieces;
  const underlays = underlaysOf(state);
  const lain = useRef(underlays);
  lain.current = underlays;
  const sized = useRef(size);
  sized.current = size;
  // a view of all pieces stays one when the room changes, until the designer moves it
  const fitted = useRef<Camera | null>(null);
  const showAll = useCallback(() => {
    const wanted = useDesk.getState().fitsTo;
    const shown = newest.current.filter((p) => wanted.includes(p.id));
    const corners = shown.length > 0 ? [] : lain.current.flatMap((u) => u.corners);
    const found = fit(shown.length > 0 ? shown : newest.current, sized.current.width, sized.current.height, corners);
    fitted.current = shown.length > 0 ? null : found;
    setCamera(found);
  }, []);
  useEffect(() => {
    if (fits > 0) showAll();
  }, [fits, showAll]);

  useLayoutEffect(() => {
    const frame = paper.current?.parentElement;
    if (!frame) return;
    const observer = new ResizeObserver(() => setSize({ width: frame.clientWidth, height: frame.clientHeight }));
    observer.observe(frame);
    return () => observer.disconnect();
  }, []);

  const ready = size.width > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another size is what it is for
  useEffect(() => {
    if (ready && (!camera || camera === fitted.current)) showAll();
  }, [ready, size, showAll]);

  const seen = useRef<number | null>(null);
  const count = pieces.length;
  useEffect(() => {
    const piece = newest.current[count - 1];
    const added = seen.current !== null && count > seen.current;
    seen.current = count;
    if (!added || !piece || !camera) return;
    desk.select({ kind: "piece", piece: piece.id });
    const shown = piece.view.outline.every((l) => {
      const p = toScreen(camera, toTableFrame(piece.view, l.from));
      return p.x > 0 && p.y > 0 && p.x < sized.current.width && p.y < sized.current.height;
    });
    if (!shown) desk.fitAll();
  }, [count, camera]);

  useEffect(() => {
    // on the whole table, so that what lies over the paper does not swallow the wheel
    const element = paper.current?.parentElement;
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

  // a picture that was just laid is looked at
  const lainCount = useRef(underlays.length);
  useEffect(() => {
    if (underlays.length > lainCount.current) desk.fitAll();
    lainCount.current = underlays.length;
  }, [underlays.length]);

  const hand = useHand({ pattern, camera, setCamera, paper, actions, costume: state.id, underlays });
  const tool = useDesk((s) => s.tool);

  const stage = useDesk((s) => s.stage);
  useGuidesOf(state.id);
  const drawn = (draw: (at: Point, name: string) => void) => {
    const at = sketch.get().nodes[0]?.at;
    if (at) draw(at, newName(pattern));
    sketch.clear();
    desk.take("pick");
  };
  const exact = {
    onBox: (w: number, h: number) => drawn((at, name) => (tool === "oval" ? addEllipse : addRectangle)(actions.edit, name, at, { x: at.x + w, y: at.y + h })),
    onDisc: (radius: number) => drawn((at, name) => addDisc(actions.edit, name, at, radius)),
  };

  return (
    <>
    <div
      ref={paper}
      style={{ width: size.width, height: size.height }}
      data-table
      tabIndex={0}
      role="application"
      aria-label="Pattern pieces: Tab walks through them, Enter goes into one, arrows move"
      data-scale={camera?.scale}
      className={`relative touch-none select-none overflow-hidden ${tool === "pick" ? "cursor-default" : "cursor-crosshair"}`}
      onPointerDown={hand.down}
      onPointerMove={hand.move}
      onPointerUp={hand.up}
      onPointerCancel={hand.lost}
      onPointerLeave={() => (usePointer.setState({ at: null }), useDesk.setState({ hovered: null }))}
      onDoubleClick={hand.finish}
    >
      {camera && (
        <>
          <Underlays all={underlays} camera={camera} />
          <svg width={size.width} height={size.height} className={SHEET}>
            <PatternPaper camera={camera} width={size.width} height={size.height} />
            <Figure state={state} pattern={pattern} camera={camera} />
          </svg>
          <Drawing pattern={pattern} camera={camera} width={size.width} height={size.height} />
          <svg width={size.width} height={size.height} className={SHEET}>
            <Hovered pattern={pattern} camera={camera} />
            {stage === "draft" && <Levels pattern={pattern} camera={camera} body={state.costume.body} />}
            {stage === "join" && <Joining pattern={pattern} camera={camera} />}
            {stage === "join" && <Walking pattern={pattern} camera={camera} />}
            <NoteMarks notes={state.costume.notes ?? []} pattern={pattern} camera={camera} />
            <Sketch camera={camera} />
          </svg>
          {stage === "draft" && <AdviceAt state={state} pattern={pattern} camera={camera} />}
        </>
      )}
    </div>
    {camera && stage === "draft" && <Rulers camera={camera} width={size.width} height={size.height} />}
    {camera && <Numbers camera={camera} {...exact} />}
    {camera && <Asked camera={camera} actions={actions} />}
    </>
  );
}
