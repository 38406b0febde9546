import { type PointerEvent, type RefObject, useEffect, useRef, useState } from "react";
import type { CostumeActions } from "../api/costume";
import type { Costume, Edit, Piece, Point } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { Press } from "../pointer/press";
import { notify } from "../ui/notices";
import { type Camera, toTable } from "./camera";
import { seamAt } from "./find";
import { edgeShapes, nearestOn } from "./shape";
import { type Snapped, snap } from "./snap";

interface Surroundings {
  costume: Costume;
  camera: Camera | null;
  setCamera: (change: (c: Camera | null) => Camera | null) => void;
  svg: RefObject<SVGSVGElement | null>;
  actions: CostumeActions;
}

type Drag = { press: Press } & (
  | { kind: "pan"; from: Point; camera: Camera }
  | { kind: "piece" | "corner" | "handle"; from: Point; start: Point; make: (at: Point) => Edit; piece: Piece; corner: number | null; neighbours: Point[] }
);

/** A drag that is not of any press yet. */
type Begun = Drag extends infer D ? (D extends Drag ? Omit<D, "press"> : never) : never;

/** Snapping distance on screen, px. */
const REACH = 9;

const inTable = (piece: Piece, p: Point) => ({ x: p.x + piece.at.x, y: p.y + piece.at.y });

/** What the pointer does on the table: one gesture at a time, previewed at once and sent as one edit at release. */
export function useHand({ costume, camera, setCamera, svg, actions }: Surroundings) {
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
    const onKey = (e: KeyboardEvent) => {
      if (e.key === "Escape") {
        cancel();
        useDesk.setState({ seamStart: null });
      }
      if (e.key === "Enter") finish();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  /** Forgets what was begun; nothing has happened. */
  const cancel = () => {
    const begun = drag.current;
    drag.current = null;
    if (begun?.kind === "pan") setCamera(() => begun.camera);
    setSketch([]);
    setLabel(null);
    setAt(null);
    useDesk.setState({ preview: null });
  };

  const addPiece = (points: Point[]) => {
    const first = points[0];
    if (!first) return;
    const local = points.map((p) => ({ x: p.x - first.x, y: p.y - first.y }));
    actions.edit({ do: "add-piece", name: `Piece ${costume.pieces.length + 1}`, at: first, points: local });
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
    return { element, data: element?.dataset, piece: costume.pieces.find((p) => p.id === id) };
  };

  const grab = (e: PointerEvent, p: Point): Begun | null => {
    const { data, piece } = hit(e);
    if (!piece || !data || !camera) return null;
    const from = toTable(camera, p);
    if (data.hit === "handle") {
      const edge = Number(data.edge);
      const handle = data.handle === "leave" ? "leave" : "arrive";
      const bow = piece.corners.find((c) => c.id === edge)?.bow;
      if (!bow) return null;
      const i = piece.corners.findIndex((c) => c.id === edge);
      const end = piece.corners[handle === "leave" ? i : (i + 1) % piece.corners.length];
      const make = (to: Point): Edit => ({ do: "move-handle", piece: piece.id, edge, handle, to });
      return { kind: "handle", from, start: bow[handle], make, piece, corner: null, neighbours: end ? [inTable(piece, end.at)] : [] };
    }
    if (data.hit === "corner") {
      const id = Number(data.corner);
      const i = piece.corners.findIndex((c) => c.id === id);
      const corner = piece.corners[i];
      if (!corner) return null;
      desk.select({ kind: "corner", piece: piece.id, corner: id });
      const n = piece.corners.length;
      const neighbours = [piece.corners[(i + 1) % n], piece.corners[(i + n - 1) % n]].flatMap((c) => (c ? [inTable(piece, c.at)] : []));
      const make = (to: Point): Edit => ({ do: "move-corner", piece: piece.id, corner: id, to });
      return { kind: "corner", from, start: corner.at, make, piece, corner: id, neighbours };
    }
    if (data.hit === "edge") {
      desk.select({ kind: "edge", piece: piece.id, edge: Number(data.edge) });
      return null;
    }
    desk.select({ kind: "piece", piece: piece.id });
    const make = (to: Point): Edit => ({ do: "move-piece", piece: piece.id, at: to });
    return { kind: "piece", from, start: piece.at, make, piece, corner: null, neighbours: [] };
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
    const shape = edgeShapes(piece, camera).find((s) => s.edge === edge);
    const seam = seamAt(costume, piece.id, edge);
    if (tool === "corner" && shape) actions.edit({ do: "add-corner", piece: piece.id, edge, fraction: nearestOn(shape, p) });
    if (tool === "bow") {
      actions.edit({ do: shape?.leave ? "straighten-edge" : "curve-edge", piece: piece.id, edge });
      desk.select({ kind: "edge", piece: piece.id, edge });
    }
    if (tool === "seam") joinAt(piece, edge);
    if (tool === "flip" && seam) actions.edit({ do: "flip-seam", seam: seam.id });
    if (tool === "unpick" && seam) actions.edit({ do: "unpick", seam: seam.id });
    if ((tool === "flip" || tool === "unpick") && !seam) notify({ item: `${piece.name}, this edge`, reason: "is not sewn", mend: "Click an edge with a letter tag" });
  };

  const joinAt = (piece: Piece, edge: number) => {
    const start = useDesk.getState().seamStart;
    const taken = seamAt(costume, piece.id, edge);
    if (!start && taken) {
      desk.select({ kind: "seam", seam: taken.id });
      return;
    }
    if (!start) {
      useDesk.setState({ seamStart: { piece: piece.id, edge }, selection: null });
      return;
    }
    actions.edit({ do: "join", a: start, b: { piece: piece.id, edge } });
    useDesk.setState({ seamStart: null });
  };

  const snapped_ = (p: Point, neighbours: Point[]): Snapped => {
    if (!camera) return { at: p, label: null };
    return snap(costume, toTable(camera, p), { piece: null, corner: null, neighbours }, REACH / camera.scale);
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
    const p = screen(e);
    useDesk.setState({ pointer: toTable(camera, p) });
    const d = drag.current;
    if (d && (!d.press.owns(e) || !d.press.moved(e))) return;
    if (d?.kind === "pan") {
      const start = d.camera;
      setCamera(() => ({ ...start, x: start.x + p.x - d.from.x, y: start.y + p.y - d.from.y }));
    } else if (d) {
      const now = toTable(camera, p);
      const target = { x: d.start.x + now.x - d.from.x, y: d.start.y + now.y - d.from.y };
      if (d.kind === "piece") {
        useDesk.setState({ preview: d.make(target) });
        return;
      }
      const snapped = snap(costume, inTable(d.piece, target), { piece: d.piece.id, corner: d.corner, neighbours: d.neighbours }, REACH / camera.scale);
      setLabel(snapped.label);
      setAt(snapped.at);
      useDesk.setState({ preview: d.make({ x: snapped.at.x - d.piece.at.x, y: snapped.at.y - d.piece.at.y }) });
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
    const made = useDesk.getState().preview;
    if (d && d.kind !== "pan" && d.press.isDrag && made) {
      setLabel(null);
      setAt(null);
      actions.edit(made);
      useDesk.setState({ preview: null });
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
