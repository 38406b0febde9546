import { type PointerEvent, type RefObject, useEffect, useRef, useState } from "react";
import type { CostumeActions } from "../api/costume";
import type { Edit, Point } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { trials, useTrial } from "../desk/trial";
import { known } from "../pointer/gesture";
import { Press } from "../pointer/press";
import { notify } from "../ui/notices";
import { type Camera, toTable } from "./camera";
import { seamAt } from "./find";
import { handleEnd, lineShape, nearestOn } from "./shape";
import { allLines, nodesOf, type ShownPattern, type ShownPiece, toPieceFrame, toTableFrame } from "./shown";
import { type Snapped, snap } from "./snap";

interface Surroundings {
  pattern: ShownPattern;
  camera: Camera | null;
  setCamera: (change: (c: Camera | null) => Camera | null) => void;
  svg: RefObject<SVGSVGElement | null>;
  actions: CostumeActions;
}

type Drag = { press: Press } & (
  | { kind: "pan"; from: Point; camera: Camera }
  | { kind: "piece" | "corner" | "handle"; from: Point; start: Point; make: (at: Point) => Edit; piece: ShownPiece; node: number | null; neighbours: Point[] }
);

/** A drag that is not of any press yet. */
type Begun = Drag extends infer D ? (D extends Drag ? Omit<D, "press"> : never) : never;

/** Within this distance of the paper's sides the gutter may be meant, px. */
const GUTTER = 24;

const nearEdge = (e: PointerEvent) => {
  const paper = e.currentTarget as SVGSVGElement;
  return e.nativeEvent.offsetX < GUTTER || e.nativeEvent.offsetX > paper.width.baseVal.value - GUTTER;
};

/** Snapping distance on screen, px. */
const REACH = 9;

/** What the pointer does on the table: one gesture at a time, tried out as it goes and sent as one edit at release. */
export function useHand({ pattern, camera, setCamera, svg, actions }: Surroundings) {
  const drag = useRef<Drag | null>(null);
  const [sketch, setSketch] = useState<Point[]>([]);
  const [label, setLabel] = useState<string | null>(null);
  const [at, setAt] = useState<Point | null>(null);
  const tool = useDesk((s) => s.tool);

  useEffect(() => {
    setSketch([]);
    setLabel(null);
    if (tool === "pick") setAt(null);
  }, [tool]);

  const finish = () => {
    if (useDesk.getState().tool !== "outline" || sketch.length < 3) return;
    addPiece(sketch);
  };

  useEffect(() => {
    const ends = known({
      active: () => drag.current !== null || sketch.length > 0 || useDesk.getState().seamStart !== null,
      cancel: () => {
        cancel();
        useDesk.setState({ seamStart: null });
      },
    });
    const closes = known({ active: () => useDesk.getState().tool === "outline" && sketch.length > 2, finish });
    return () => {
      ends();
      closes();
    };
  });

  /** Forgets what was begun; nothing has happened. */
  const cancel = () => {
    const begun = drag.current;
    drag.current = null;
    if (begun?.kind === "pan") setCamera(() => begun.camera);
    setSketch([]);
    setLabel(null);
    setAt(null);
    trials.clear();
  };

  const addPiece = (points: Point[]) => {
    const first = points[0];
    if (!first) return;
    const local = points.map((p) => ({ x: p.x - first.x, y: p.y - first.y }));
    actions.edit({ do: "add-piece", name: `Piece ${pattern.pieces.length + 1}`, at: first, points: local });
    setSketch([]);
    desk.take("pick");
  };

  const screen = (e: { clientX: number; clientY: number }): Point => {
    const box = svg.current?.getBoundingClientRect();
    return { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) };
  };

  const hit = (e: PointerEvent) => {
    const element = (e.target as Element).closest<SVGElement>("[data-hit]");
    const id = Number(element?.closest<SVGElement>("[data-piece]")?.dataset.piece);
    return { element, data: element?.dataset, piece: pattern.pieces.find((p) => p.id === id) };
  };

  const grab = (e: PointerEvent, p: Point): Begun | null => {
    const { data, piece } = hit(e);
    if (!piece || !data || !camera) return null;
    const from = toTable(camera, p);
    const { view } = piece;
    if (data.hit === "handle") {
      const line = allLines(view).find((l) => l.line === Number(data.edge) && !l.image);
      if (!line?.handles) return null;
      const leaves = data.handle === "leave";
      const end = handleEnd(line, leaves ? "leave" : "arrive");
      const make = (to: Point): Edit => ({ do: "move-handle", piece: piece.id, line: line.line, end, to });
      return { kind: "handle", from, start: line.handles[leaves ? 0 : 1], make, piece, node: null, neighbours: [toTableFrame(view, leaves ? line.from : line.to)] };
    }
    if (data.hit === "corner") {
      const node = Number(data.corner);
      const start = nodesOf(view).find((n) => n.node === node)?.at;
      if (!start) return null;
      desk.select({ kind: "corner", piece: piece.id, node });
      const beside = allLines(view).flatMap((l) => (l.node === node && l.own_node ? [l.to] : l.end === node && !l.image ? [l.from] : []));
      const make = (to: Point): Edit => ({ do: "move-node", piece: piece.id, node, to });
      return { kind: "corner", from, start, make, piece, node, neighbours: beside.map((p) => toTableFrame(view, p)) };
    }
    if (data.hit === "edge") {
      desk.select({ kind: "edge", piece: piece.id, line: Number(data.edge) });
      return null;
    }
    desk.select({ kind: "piece", piece: piece.id });
    const make = (to: Point): Edit => ({ do: "move-piece", piece: piece.id, at: to });
    return { kind: "piece", from, start: view.at, make, piece, node: null, neighbours: [] };
  };

  const use = (e: PointerEvent, p: Point) => {
    const { data, piece } = hit(e);
    if (!camera) return;
    const edge = data?.edge === undefined || data.hit !== "edge" ? null : Number(data.edge);
    if (tool === "outline") {
      const first = sketch[0];
      const snapped = snapped_(p, sketch.slice(-1));
      const closing = first && sketch.length > 2 && Math.hypot(first.x - snapped.at.x, first.y - snapped.at.y) * camera.scale < 10;
      if (closing) addPiece(sketch);
      else setSketch([...sketch, snapped.at]);
      return;
    }
    if (tool === "band") {
      setSketch([snapped_(p, []).at]);
      return;
    }
    if (!piece || edge === null) {
      if (tool === "seam" || tool === "flip" || tool === "unpick") useDesk.setState({ seamStart: null });
      return;
    }
    const line = allLines(piece.view).find((l) => l.line === edge && !l.image);
    const seam = seamAt(pattern.seams, piece.id, edge);
    if (tool === "corner" && line) actions.edit({ do: "split-line", piece: piece.id, line: edge, fraction: nearestOn(lineShape(piece, line, camera), p) });
    if (tool === "bow") {
      actions.edit({ do: line?.handles ? "straighten-line" : "curve-line", piece: piece.id, line: edge });
      desk.select({ kind: "edge", piece: piece.id, line: edge });
    }
    if (tool === "seam") joinAt(piece, edge);
    if (tool === "flip" && seam) actions.edit({ do: "flip-seam", seam: seam.seam });
    if (tool === "unpick" && seam) actions.edit({ do: "unpick", seam: seam.seam });
    if ((tool === "flip" || tool === "unpick") && !seam) notify({ item: `${piece.doc.name}, this edge`, reason: "is not sewn", remedy: "Click an edge with a letter tag" });
  };

  const joinAt = (piece: ShownPiece, line: number) => {
    const start = useDesk.getState().seamStart;
    const taken = seamAt(pattern.seams, piece.id, line);
    if (!start && taken) {
      desk.select({ kind: "seam", seam: taken.seam });
      return;
    }
    if (!start) {
      useDesk.setState({ seamStart: { piece: piece.id, line }, selection: null });
      return;
    }
    actions.edit({ do: "join", a: start, b: { piece: piece.id, line } });
    useDesk.setState({ seamStart: null });
  };

  const snapped_ = (p: Point, neighbours: Point[]): Snapped => {
    if (!camera) return { at: p, label: null };
    return snap(pattern.pieces, toTable(camera, p), { piece: null, node: null, neighbours }, REACH / camera.scale);
  };

  const down = (e: PointerEvent) => {
    if (!camera || e.button === 2) return;
    // a second finger ends what the first one began
    if (drag.current && !drag.current.press.owns(e)) return cancel();
    const p = screen(e);
    const press = new Press(e);
    svg.current?.setPointerCapture(e.pointerId);
    if (e.button === 1) {
      drag.current = { press, kind: "pan", from: p, camera };
      return;
    }
    if (tool !== "pick") {
      use(e, p);
      return;
    }
    const taken = grab(e, p);
    const onTable = hit(e).element === null;
    const begun: Begun | null = taken ?? (onTable ? { kind: "pan", from: p, camera } : null);
    drag.current = begun && { ...begun, press };
  };

  const move = (e: PointerEvent) => {
    if (!camera) return;
    // away from the gutter nobody else has to look at where the pointer is
    if (drag.current || (e.buttons === 0 && !nearEdge(e))) e.stopPropagation();
    const p = screen(e);
    const d = drag.current;
    // while something is dragged the pointer belongs to the table, and what was hovered stays so
    const over = d ? undefined : Number((e.target as Element).closest<SVGElement>("[data-piece]")?.dataset.piece);
    useDesk.setState({ pointer: toTable(camera, p), ...(over === undefined ? {} : { hovered: Number.isNaN(over) ? null : over }) });
    if (d && (!d.press.owns(e) || !d.press.moved(e))) return;
    if (d?.kind === "pan") {
      const start = d.camera;
      setCamera(() => ({ ...start, x: start.x + p.x - d.from.x, y: start.y + p.y - d.from.y }));
    } else if (d) {
      const now = toTable(camera, p);
      if (d.kind === "piece") {
        trials.show(d.make({ x: d.start.x + now.x - d.from.x, y: d.start.y + now.y - d.from.y }));
        return;
      }
      const held = toTableFrame(d.piece.view, d.start);
      const target = { x: held.x + now.x - d.from.x, y: held.y + now.y - d.from.y };
      const snapped = snap(pattern.pieces, target, { piece: d.piece.id, node: d.node, neighbours: d.neighbours }, REACH / camera.scale);
      setLabel(snapped.label);
      setAt(snapped.at);
      trials.show(d.make(toPieceFrame(d.piece.view, snapped.at)));
    } else if (tool === "outline" || tool === "band") {
      const snapped = snapped_(p, tool === "outline" ? sketch.slice(-1) : []);
      setLabel(snapped.label);
      setAt(snapped.at);
    }
  };

  const up = (e: PointerEvent) => {
    const d = drag.current;
    if (d && !d.press.owns(e)) return;
    drag.current = null;
    svg.current?.releasePointerCapture(e.pointerId);
    if (d?.kind === "pan" && !d.press.isDrag && e.button === 0) desk.select(null);
    const made = useTrial.getState().edit;
    if (d && d.kind !== "pan" && d.press.isDrag && made) {
      setLabel(null);
      setAt(null);
      actions.edit(made);
      trials.settle();
    }
    const first = sketch[0];
    if (tool === "band" && first && at && Math.abs(at.x - first.x) > 5 && Math.abs(at.y - first.y) > 5) {
      addPiece([first, { x: at.x, y: first.y }, at, { x: first.x, y: at.y }]);
    }
  };

  /** The pointer was lost: to the system, or to another element. */
  const lost = () => {
    if (drag.current || tool === "band") cancel();
  };

  return { down, move, up, lost, finish, sketch, label, at };
}
