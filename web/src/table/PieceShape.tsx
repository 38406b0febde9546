import type { EdgeMeasure, Fabric, Piece } from "../api/types";
import { useDesk } from "../desk/store";
import { format } from "../ui/units";
import { type Camera, toScreen } from "./camera";
import { middle, nameSpot } from "./nameSpot";
import { outlinePath } from "./outlinePath";
import { type EdgeShape, edgeShapes, outward, pointOn } from "./shape";

interface Props {
  piece: Piece;
  fabric: Fabric | undefined;
  camera: Camera;
  edges: EdgeMeasure[];
  /** Edges that carry a seam; their tags are outside, so their lengths are inside. */
  sewn: Set<number>;
}

/** Arc length of a path on screen, by the browser's own measure; used while dragging, before the exact length arrives. */
function screenLength(path: string): number {
  const element = document.createElementNS("http://www.w3.org/2000/svg", "path");
  element.setAttribute("d", path);
  return element.getTotalLength();
}

/** One piece with its edges, corners and, when selected, handles and lengths. */
export function PieceShape({ piece, fabric, camera, edges, sewn }: Props) {
  const { selection, hovered, preview, tool, stage, seamStart, filled } = useDesk();
  const shapes = edgeShapes(piece, camera);
  const selected = selection !== null && selection.kind !== "seam" && selection.piece === piece.id;
  const edited = preview !== null && "piece" in preview && preview.piece === piece.id && preview.do !== "move-piece";
  const outline = outlinePath(piece, (x) => camera.x + x * camera.scale, (y) => camera.y - y * camera.scale);
  const drafting = stage === "draft" || stage === "body";
  return (
    <g data-piece={piece.id} opacity={piece.parked ? 0.45 : 1}>
      <path
        d={outline}
        data-hit="piece"
        fill="#fff"
        stroke="none"
        className={tool === "pick" ? "cursor-grab" : undefined}
        onPointerEnter={() => useDesk.setState({ hovered: piece.id })}
        onPointerLeave={() => useDesk.setState({ hovered: null })}
      />
      {fabric && filled && <path d={outline} fill={fabric.colour} fillOpacity={0.55} pointerEvents="none" />}
      {shapes.map((e) => {
        const chosen = (selection?.kind === "edge" && selection.piece === piece.id && selection.edge === e.edge) || (seamStart?.piece === piece.id && seamStart.edge === e.edge);
        return (
          <g key={e.edge} className="group">
            <path d={e.path} fill="none" stroke={chosen ? "var(--color-thread)" : "var(--color-ink)"} strokeWidth={chosen ? 3 : selected || hovered === piece.id ? 2.2 : 1.4} className="group-hover:stroke-thread" pointerEvents="none" strokeLinecap="round" />
            <path d={e.path} fill="none" stroke="transparent" strokeWidth={13} data-hit="edge" data-edge={e.edge} pointerEvents="stroke" />
          </g>
        );
      })}
      <FoldLines piece={piece} shapes={shapes} selected={selected} />
      <Grain piece={piece} camera={camera} />
      <Name piece={piece} camera={camera} fabric={fabric} />
      {(selected || edited) && shapes.map((e) => <Length key={e.edge} shape={e} outside={!sewn.has(e.edge)} mm={edited ? screenLength(e.path) / camera.scale : edges.find((m) => m.piece === piece.id && m.edge === e.edge)?.length} />)}
      {drafting && selected && shapes.map((e) => <Handles key={e.edge} shape={e} />)}
      {selection?.kind === "corner" && selected && shapes.map((e, k) => <CornerNumber key={e.edge} shape={e} before={shapes[(k + shapes.length - 1) % shapes.length] ?? e} number={k + 1} />)}
      {shapes.map((e) => {
        const chosen = selection?.kind === "corner" && selection.piece === piece.id && selection.corner === e.edge;
        return (
          <g key={e.edge} transform={`translate(${e.from.x} ${e.from.y}) rotate(45)`} data-hit="corner" data-corner={e.edge} className={tool === "pick" ? "cursor-move" : undefined}>
            <rect x={-8} y={-8} width={16} height={16} fill="transparent" />
            <rect x={-3.5} y={-3.5} width={7} height={7} fill={chosen ? "var(--color-thread)" : "var(--color-card)"} stroke={chosen ? "var(--color-thread)" : "var(--color-ink)"} strokeWidth={1.3} />
          </g>
        );
      })}
    </g>
  );
}

/** Lines along which the piece is pressed, dash and dot. */
function FoldLines({ piece, shapes, selected }: { piece: Piece; shapes: EdgeShape[]; selected: boolean }) {
  const at = (corner: number) => shapes.find((s) => s.edge === corner)?.from;
  return (piece.folds ?? []).map((f) => {
    const [a, b] = [at(f.from), at(f.to)];
    if (!a || !b) return null;
    return (
      <g key={`${f.from} ${f.to}`} pointerEvents="none" data-fold={`${f.from} ${f.to}`}>
        <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--color-ink)" strokeWidth={1.3} strokeDasharray="9 3 2 3" />
        {selected && (
          <text x={(a.x + b.x) / 2} y={(a.y + b.y) / 2 - 9} textAnchor="middle" className="figures fill-ink" paintOrder="stroke" stroke="#fff" strokeWidth={3}>
            {f.angle}°
          </text>
        )}
      </g>
    );
  });
}

/** The number by which the docket calls a corner, just inside it. */
function CornerNumber({ shape, before, number }: { shape: EdgeShape; before: EdgeShape; number: number }) {
  const [n, m] = [outward(shape), outward(before)];
  return (
    <text x={shape.from.x - 9 * (n.x + m.x)} y={shape.from.y - 9 * (n.y + m.y)} textAnchor="middle" dominantBaseline="middle" className="figures pointer-events-none fill-ink-soft text-[11px]" paintOrder="stroke" stroke="#fff" strokeWidth={3}>
      {number}
    </text>
  );
}

function Handles({ shape }: { shape: EdgeShape }) {
  if (!shape.leave || !shape.arrive) return null;
  const handle = (name: "leave" | "arrive", from: { x: number; y: number }, at: { x: number; y: number }) => (
    <g>
      <line x1={from.x} y1={from.y} x2={at.x} y2={at.y} stroke="var(--color-thread)" strokeWidth={1} pointerEvents="none" />
      <circle cx={at.x} cy={at.y} r={9} fill="transparent" data-hit="handle" data-handle={name} data-edge={shape.edge} className="cursor-move" />
      <circle cx={at.x} cy={at.y} r={4} fill="var(--color-card)" stroke="var(--color-thread)" strokeWidth={1.5} pointerEvents="none" />
    </g>
  );
  return (
    <>
      {handle("leave", shape.from, shape.leave)}
      {handle("arrive", shape.to, shape.arrive)}
    </>
  );
}

function Length({ shape, mm, outside }: { shape: EdgeShape; mm: number | undefined; outside: boolean }) {
  const unit = useDesk((s) => s.unit);
  if (mm === undefined || Math.hypot(shape.to.x - shape.from.x, shape.to.y - shape.from.y) < 34) return null;
  const [at, n] = [pointOn(shape, 0.5), outward(shape)];
  // beside a steep edge there is more room outside, below a level one inside
  const side = outside && Math.abs(n.x) > 0.6 ? 1 : -1;
  return (
    <text x={at.x + side * n.x * (12 + 22 * Math.abs(n.x))} y={at.y + side * n.y * 16} textAnchor="middle" dominantBaseline="middle" className="figures pointer-events-none fill-ink" paintOrder="stroke" stroke="#fff" strokeWidth={3} data-length={shape.edge}>
      {format(mm, unit)}
    </text>
  );
}

function Grain({ piece, camera }: { piece: Piece; camera: Camera }) {
  const m = middle(piece);
  const [at, half] = [toScreen(camera, m), Math.min(m.height * 0.2 * camera.scale, 90)];
  if (half < 14) return null;
  return (
    <g transform={`translate(${at.x} ${at.y - half * 0.35}) rotate(${90 - piece.grain})`} stroke="var(--color-ink-soft)" fill="none" pointerEvents="none">
      <path d={`M0 ${half}V${-half}M-4 ${-half + 8}L0 ${-half}L4 ${-half + 8}`} />
    </g>
  );
}

function Name({ piece, camera, fabric }: { piece: Piece; camera: Camera; fabric: Fabric | undefined }) {
  const line = piece.parked ? "parked" : (fabric?.name ?? "");
  const spot = nameSpot(piece, camera, line);
  if (!spot) return null;
  return (
    <text
      x={spot.x}
      y={spot.y}
      textAnchor="middle"
      paintOrder="stroke"
      stroke="#fff"
      strokeWidth={3}
      className={`pointer-events-none fill-ink font-heading font-semibold ${spot.fits ? "text-[14px]" : "text-[11px]"}`}
    >
      {piece.name}
      {spot.withLine && (
        <tspan x={spot.x} dy={17} className="fill-ink-soft font-normal font-sans text-[11px]">
          <tspan fill={fabric?.colour} stroke="var(--color-ink-soft)" strokeWidth={0.6} className="text-[13px]">
            ■
          </tspan>{" "}
          {line}
        </tspan>
      )}
    </text>
  );
}
