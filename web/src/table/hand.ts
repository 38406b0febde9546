import { type PointerEvent, type RefObject, useEffect, useRef } from "react";
import { flushSync } from "react-dom";
import type { CostumeActions } from "../api/costume";
import type { Edit, Point, Underlay } from "../api/types";
import { desk, type Selection, selectedNodes, selectedPieces, useDesk, usePointer } from "../desk/store";
import { trials, useTrial } from "../desk/trial";
import { known } from "../pointer/gesture";
import { Press } from "../pointer/press";
import { type Camera, toTable } from "./camera";
import { useSpots } from "../stand/spots";
import { useDraft } from "./draft";
import { useGuides } from "./guides";
import { joining } from "./joining";
import { useMarquee, within } from "./marquee";
import { ruleStep } from "./PatternPaper";
import { handleEnd } from "./shape";
import { allLines, nodesOf, type ShownPattern, type ShownPiece, toPieceFrame, toTableFrame } from "./shown";
import { isEmpty, sketch, useSketch } from "./sketch";
import { type Snapped, type SnapTarget, snap } from "./snap";
import type { Hit, Place } from "./tools/bench";
import { TABLE_TOOLS } from "./tools";
import { underlayAt, useUnderlays } from "./underlays";

interface Surroundings {
  pattern: ShownPattern;
  camera: Camera | null;
  setCamera: (change: (c: Camera | null) => Camera | null) => void;
  paper: RefObject<HTMLDivElement | null>;
  actions: CostumeActions;
  costume: number;
  underlays: Underlay[];
}

type Drag = { press: Press } & (
  | { kind: "pan"; from: Point; camera: Camera }
  | { kind: "marquee"; from: Point }
  | { kind: "tool"; held: Place }
  | { kind: "underlay"; from: Point; underlay: number }
  | { kind: "shape"; from: Point; start: Point; make: (at: Point) => Edit; piece: ShownPiece; snaps: boolean; node: number | null; neighbours: Point[]; selects: Selection | null }
);

/** A drag that is not of any press yet. */
type Begun = Drag extends infer D ? (D extends Drag ? Omit<D, "press"> : never) : never;

/** Within this distance of the paper's sides the gutter may be meant, px. */
const GUTTER = 24;

/** Snapping distance on screen, px. */
const REACH = 9;

/** What the pointer does on the table: one gesture at a time, tried out as it goes and sent as one edit at release. */
export function useHand({ pattern, camera, setCamera, paper, actions, costume, underlays }: Surroundings) {
  const drag = useRef<Drag | null>(null);
  const latest = useRef<Record<"move" | "up", (e: PointerEvent) => void>>({ move: () => undefined, up: () => undefined });
  const tool = useDesk((s) => s.tool);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another tool begins anew
  useEffect(() => (sketch.clear(), joining.clear()), [tool]);

  const own = () => {
    const { tool } = useDesk.getState();
    return tool === "pick" ? null : TABLE_TOOLS[tool];
  };
  const bench = () => (camera ? { pattern, camera, actions, costume, underlays } : null);
  const finish = () => {
    const b = bench();
    if (b) own()?.finish?.(b);
  };

  useEffect(() => {
    const ends = known({
      active: () => drag.current !== null || !isEmpty(sketch.get()) || joining.begun(),
      cancel: () => {
        cancel();
        joining.clear();
      },
    });
    const closes = known({ active: () => own()?.finish !== undefined && (!isEmpty(sketch.get()) || joining.ready()), finish });
    const backs = known({ active: () => own()?.back !== undefined && (sketch.get().nodes.length > 0 || sketch.get().begun.length > 0 || joining.begun()), back: () => own()?.back?.() });
    return () => {
      ends();
      closes();
      backs();
    };
  });

  /** Forgets what was begun; nothing has happened. */
  const cancel = () => {
    const begun = drag.current;
    drag.current = null;
    if (begun?.kind === "pan") setCamera(() => begun.camera);
    useMarquee.setState({ box: null });
    useUnderlays.setState({ dragged: null });
    useSpots.setState({ carried: null, near: null });
    sketch.clear();
    trials.clear();
  };

  const screen = (e: { clientX: number; clientY: number }): Point => {
    const box = paper.current?.getBoundingClientRect();
    return { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) };
  };

  const hit = (e: PointerEvent): Hit => {
    const element = (e.target as Element).closest<SVGElement>("[data-hit]");
    const data = element?.dataset;
    const id = Number(element?.closest<SVGElement>("[data-piece]")?.dataset.piece);
    const number = (text: string | undefined) => (text === undefined ? null : Number(text));
    return {
      kind: (data?.hit as Hit["kind"]) ?? null,
      piece: pattern.pieces.find((p) => p.id === id),
      line: number(data?.edge),
      node: number(data?.corner),
      handle: (data?.handle as Hit["handle"]) ?? null,
    };
  };

  const snapped = (p: Point, loose: boolean, target: Partial<SnapTarget>): Snapped => {
    if (!camera) return { at: p, label: null };
    const { free, ruled } = useDraft.getState();
    const table = toTable(camera, p);
    if (free || loose) return { at: table, label: null };
    return snap(pattern.pieces, table, { piece: null, node: null, neighbours: [], guides: useGuides.getState().all, ruled: ruled ? ruleStep(camera.scale) : 0, ...target }, REACH / camera.scale);
  };

  const placeOf = (e: PointerEvent, c: Camera): Place => {
    const p = screen(e);
    return { screen: p, table: toTable(c, p), snapped: snapped(p, e.altKey, { neighbours: own()?.neighbours?.() ?? [] }), hit: hit(e), shift: e.shiftKey };
  };

  /** What the Pick tool takes hold of. */
  const grab = (e: PointerEvent, p: Point, c: Camera): Begun | null => {
    const found = hit(e);
    const { piece } = found;
    if (!piece || found.kind === null) return null;
    const from = toTable(c, p);
    const { view } = piece;
    const shape = { kind: "shape" as const, from, piece, node: null, neighbours: [], snaps: true, selects: null };
    if (found.kind === "handle") {
      const line = allLines(view).find((l) => l.line === found.line && !l.image);
      if (!line?.handles || !found.handle) return null;
      const leaves = found.handle === "leave";
      const end = handleEnd(line, found.handle);
      return { ...shape, start: line.handles[leaves ? 0 : 1], make: (to) => ({ do: "move-handle", piece: piece.id, line: line.line, end, to }), neighbours: [toTableFrame(view, leaves ? line.from : line.to)] };
    }
    if (found.kind === "corner" && found.node !== null) {
      const { node } = found;
      const start = nodesOf(view).find((n) => n.node === node)?.at;
      if (!start) return null;
      const one: Selection = { kind: "corner", piece: piece.id, node };
      if (e.shiftKey) {
        desk.alter(one);
        return null;
      }
      const { softReach: reach } = useDraft.getState();
      const held = useDesk.getState().selection?.kind === "corner" ? selectedNodes(useDesk.getState()) : [];
      const several = held.includes(node) && held.length > 1;
      if (!several) desk.select(one);
      const nodes = several ? held : [node];
      const together = (to: Point): Edit => ({ do: "move-nodes", piece: piece.id, nodes, by: { x: to.x - start.x, y: to.y - start.y }, reach });
      const beside = allLines(view).flatMap((l) => (l.node === node && l.own_node ? [l.to] : l.end === node && !l.image ? [l.from] : []));
      const make = nodes.length > 1 || reach > 0 ? together : (to: Point): Edit => ({ do: "move-node", piece: piece.id, node, to });
      return { ...shape, start, make, node, neighbours: beside.map((q) => toTableFrame(view, q)) };
    }
    if (found.kind === "edge" && found.line !== null) {
      desk.select({ kind: "edge", piece: piece.id, line: found.line });
      return null;
    }
    return grabPiece(e, piece, shape);
  };

  const grabPiece = (e: PointerEvent, piece: ShownPiece, shape: Omit<Extract<Begun, { kind: "shape" }>, "start" | "make">): Begun | null => {
    const one: Selection = { kind: "piece", piece: piece.id };
    if (e.shiftKey) {
      desk.alter(one);
      return null;
    }
    const held = selectedPieces(useDesk.getState());
    const group = piece.doc.group === undefined ? [] : pattern.pieces.filter((p) => p.doc.group === piece.doc.group).map((p) => p.id);
    const together = held.includes(piece.id) ? held : group.length > 1 ? group : [piece.id];
    if (!held.includes(piece.id)) desk.selectAll([...together.filter((p) => p !== piece.id), piece.id].map((p) => ({ kind: "piece", piece: p })));
    const starts = pattern.pieces.filter((p) => together.includes(p.id)).map((p) => ({ id: p.id, at: p.view.at }));
    const { at: start } = piece.view;
    const make = (to: Point): Edit => {
      const moves = starts.map((s): Edit => ({ do: "move-piece", piece: s.id, at: { x: s.at.x + to.x - start.x, y: s.at.y + to.y - start.y } }));
      const [only] = moves;
      return only && moves.length === 1 ? only : { do: "batch", edits: moves };
    };
    // of several selected pieces a click leaves one
    return { ...shape, start, make, snaps: false, selects: together.length > 1 && held.includes(piece.id) ? one : null };
  };

  const down = (e: PointerEvent) => {
    if (!camera || e.button === 2) return;
    // a second finger ends what the first one began
    if (drag.current && !drag.current.press.owns(e)) return cancel();
    const p = screen(e);
    const press = new Press(e);
    paper.current?.setPointerCapture(e.pointerId);
    hearOutside();
    if (e.button === 1) {
      drag.current = { press, kind: "pan", from: p, camera };
      return;
    }
    const b = bench();
    const used = own();
    if (used && b) {
      const held = placeOf(e, camera);
      drag.current = { press, kind: "tool", held };
      used.down?.(b, held);
      return;
    }
    const taken = grab(e, p, camera);
    const onTable = hit(e).kind === null;
    const loose = onTable && !e.shiftKey && useDesk.getState().stage === "draft" ? underlayAt(underlays, toTable(camera, p)) : undefined;
    const held: Begun | null = loose && !loose.locked ? { kind: "underlay", from: toTable(camera, p), underlay: loose.id } : null;
    const begun: Begun | null = taken ?? held ?? (onTable ? (e.shiftKey ? { kind: "marquee", from: p } : { kind: "pan", from: p, camera }) : null);
    drag.current = begun && { ...begun, press };
  };

  const move = (e: PointerEvent) => {
    if (!camera) return;
    const p = screen(e);
    // away from the gutter nobody else has to look at where the pointer is
    const nearEdge = p.x < GUTTER || p.x > (paper.current?.clientWidth ?? 0) - GUTTER;
    if (drag.current || (e.buttons === 0 && !nearEdge)) e.stopPropagation();
    const d = drag.current;
    // while something is dragged the pointer belongs to the table, and what was hovered stays so
    const over = d ? undefined : Number((e.target as Element).closest<SVGElement>("[data-piece]")?.dataset.piece);
    // where a shape is dragged to is told with what comes of it
    if (d?.kind !== "shape") usePointer.setState({ at: toTable(camera, p) });
    const hovered = over === undefined || Number.isNaN(over) ? null : over;
    // told only when it changes: all that looks at the desk would have to see whether it is concerned
    if (over !== undefined && useDesk.getState().hovered !== hovered) useDesk.setState({ hovered });
    if (d && (!d.press.owns(e) || !d.press.moved(e))) return;
    const b = bench();
    const used = own();
    if (carry(d, e)) return;
    if (d?.kind === "pan") {
      const start = d.camera;
      // drawn in the very frame that the movement belongs to, not in one of its own after it
      flushSync(() => setCamera(() => ({ ...start, x: start.x + p.x - d.from.x, y: start.y + p.y - d.from.y })));
    } else if (d?.kind === "underlay") {
      const now = toTable(camera, p);
      useUnderlays.setState({ dragged: { underlay: d.underlay, by: { x: now.x - d.from.x, y: now.y - d.from.y } } });
    } else if (d?.kind === "marquee") {
      useMarquee.setState({ box: { from: d.from, to: p } });
    } else if (d?.kind === "shape") {
      shapeTo(d, p, e.altKey);
    } else if (used?.move && b) {
      used.move(b, placeOf(e, camera), d?.kind === "tool" ? d.held : null);
    }
  };

  /** In Join, a piece that is dragged off the table is carried to a spot on the stand; whether it is there by now. */
  const carry = (d: Drag | null, e: PointerEvent): boolean => {
    const piece = d?.kind === "shape" && d.node === null && !d.snaps ? d.piece.id : d?.kind === "tool" && d.held.hit.kind === "piece" ? d.held.hit.piece?.id : undefined;
    if (piece === undefined || useDesk.getState().stage !== "join") return false;
    const box = paper.current?.getBoundingClientRect();
    const away = box !== undefined && (e.clientX > box.right || e.clientX < box.left);
    const spots = useSpots.getState();
    if (!away) {
      if (spots.carried !== null) useSpots.setState({ carried: null, near: null });
      return false;
    }
    useSpots.setState({ carried: piece, near: spots.find?.(e.clientX, e.clientY) ?? null });
    return true;
  };

  /** Hangs the piece that is carried at the spot under the pointer; whether one was carried. */
  const hang = (): boolean => {
    const { carried, near } = useSpots.getState();
    if (carried === null) return false;
    useSpots.setState({ carried: null, near: null });
    trials.clear();
    if (near) {
      actions.edit({ do: "place", piece: carried, placement: { station: near.key, shift: { x: 0, y: 0 }, turn: 0 } });
      desk.select({ kind: "piece", piece: carried });
    }
    return true;
  };

  const shapeTo = (d: Extract<Drag, { kind: "shape" }>, p: Point, loose: boolean) => {
    if (!camera) return;
    const now = toTable(camera, p);
    if (!d.snaps) {
      trials.show(d.make({ x: d.start.x + now.x - d.from.x, y: d.start.y + now.y - d.from.y }), () => usePointer.setState({ at: now }));
      return;
    }
    const held = toTableFrame(d.piece.view, d.start);
    const target = { x: camera.x + (held.x + now.x - d.from.x) * camera.scale, y: camera.y - (held.y + now.y - d.from.y) * camera.scale };
    const { at, label } = snapped(target, loose, { piece: d.piece.id, node: d.node, neighbours: d.neighbours });
    trials.show(d.make(toPieceFrame(d.piece.view, at)), () => {
      usePointer.setState({ at: now });
      useSketch.setState({ at, label });
    });
  };

  const up = (e: PointerEvent) => {
    const d = drag.current;
    if (d && !d.press.owns(e)) return;
    drag.current = null;
    if (paper.current?.hasPointerCapture(e.pointerId)) paper.current.releasePointerCapture(e.pointerId);
    if (hang()) return;
    const b = bench();
    if (d?.kind === "tool" && b && camera) own()?.up?.(b, placeOf(e, camera), d.held);
    if (d?.kind === "underlay") letGo(d.press.isDrag);
    if (d?.kind === "pan" && !d.press.isDrag && e.button === 0) desk.select(null);
    if (d?.kind === "marquee") marquee(d, screen(e));
    if (d?.kind !== "shape") return;
    const made = useTrial.getState().edit;
    if (d.press.isDrag && made) {
      useSketch.setState({ at: null, label: null });
      actions.edit(made);
      trials.settle();
    } else if (!d.press.isDrag && d.selects) desk.select(d.selects);
  };

  /** A picture stays where it was dragged to; a click on it is one on the table. */
  const letGo = (isDrag: boolean) => {
    const { dragged } = useUnderlays.getState();
    if (dragged && isDrag) actions.edit({ do: "move-underlay", underlay: dragged.underlay, by: dragged.by });
    else desk.select(null);
  };

  /** Selects the pieces within a box, or the corners of the piece in hand. */
  const marquee = (d: Extract<Drag, { kind: "marquee" }>, to: Point) => {
    useMarquee.setState({ box: null });
    if (!camera || !d.press.isDrag) return;
    const chosen = useDesk.getState().selection;
    const found = within(pattern.pieces, camera, d.from, to, chosen?.kind === "piece" || chosen?.kind === "corner" ? chosen.piece : null);
    if (found.length > 0) desk.selectAll(found);
  };

  /** What is dragged off the paper is heard there too: not every pointer stays captured on its way. */
  const hearOutside = () => {
    const over = new AbortController();
    const outside = (m: globalThis.PointerEvent) => !(m.target instanceof Node && paper.current?.contains(m.target));
    const heard = (act: "move" | "up") => (m: globalThis.PointerEvent) => {
      if (act === "up" || !drag.current) over.abort();
      if (outside(m)) latest.current[act](m as unknown as PointerEvent);
    };
    window.addEventListener("pointermove", heard("move"), { signal: over.signal, capture: true });
    window.addEventListener("pointerup", heard("up"), { signal: over.signal, capture: true });
  };

  /** The pointer was lost: to the system, or to another element. */
  const lost = () => {
    if (drag.current) cancel();
  };

  latest.current = { move, up };
  return { down, move, up, lost, finish };
}
