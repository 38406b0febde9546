import { memo, type ReactNode } from "react";
import { isAside, useDesk } from "../desk/store";
import { format } from "../ui/units";
import { type Camera, toScreen } from "./camera";
import { ClothFill } from "./ClothFill";
import { Painted } from "./Painted";
import { middle, nameLine, nameSpot } from "./nameSpot";
import { clothPath, drawn, type LineShape, lineShape, outward, pointOn } from "./shape";
import { foldsOf, nodesOf, type ShownPiece, toTableFrame } from "./shown";

interface Props {
  piece: ShownPiece;
  camera: Camera;
  /** Keys of its lines that carry a seam, with spaces between; their tags are outside, so their lengths are inside. */
  sewn: string;
}

/** One piece with its lines, corners and, when selected, handles and lengths. */
export const PieceShape = memo(function PieceShape({ piece, camera, sewn }: Props) {
  const { id } = piece;
  const chosen = useDesk((s) => (s.selection !== null && s.selection.kind !== "seam" && s.selection.piece === id ? s.selection : null));
  const picking = useDesk((s) => s.tool === "pick");
  const aside = useDesk((s) => isAside(s.stage));
  // lengths would lie over what is painted
  const painting = useDesk((s) => s.tool === "paint");
  const drafting = useDesk((s) => s.stage === "draft" || s.stage === "body");
  const filled = useDesk((s) => s.filled);
  const further = useDesk((s) => s.also.flatMap((o) => (o.kind === "corner" && o.piece === id ? [o.node] : [])).join(" "));
  const along = useDesk((s) => s.also.some((o) => o.kind === "piece" && o.piece === id));
  const { shapes, roomy } = drawn(piece, camera);
  const cloth = clothPath(piece, camera);
  const around = shapes.slice(0, piece.view.outline.length);
  const selected = chosen !== null || along;
  const more = further.split(" ").map(Number);
  const own = sewn.split(" ");
  // lines are drawn one by one where they can be taken hold of, or are marked; else the piece is one path
  const single = selected || roomy;
  return (
    <Weighted piece={piece} selected={selected}>
      <path
        d={cloth}
        data-hit="piece"
        fill="var(--color-white)"
        fillRule="evenodd"
        stroke={single || piece.fabric && filled ? "none" : "var(--color-ink)"}
        className={picking ? "cursor-grab" : undefined}
      />
      {piece.fabric && filled && <ClothFill piece={piece} fabric={piece.fabric} camera={camera} cloth={cloth} />}
      {piece.view.paint.length > 0 && <Painted piece={piece} camera={camera} cloth={cloth} />}
      {!single && (filled || piece.view.inside.length > 0) && <path d={shapes.map((e) => e.path).join(" ")} fill="none" stroke="var(--color-ink)" pointerEvents="none" />}
      {single && shapes.map((e) => {
        const inside = piece.view.inside.find((p) => p.lines.includes(e.view));
        return <Edge key={e.key} path={e.path} line={e.view.image ? null : e.view.line} marked={chosen?.kind === "edge" && chosen.line === e.view.line} inside={inside !== undefined} dashes={inside && dashes(inside.purpose)} />;
      })}
      <Cutting piece={piece} camera={camera} />
      <Marks piece={piece} camera={camera} />
      <FoldAngles piece={piece} camera={camera} selected={selected} />
      <Notches piece={piece} camera={camera} />
      <Grain piece={piece} camera={camera} />
      <Name piece={piece} camera={camera} />
      {selected && !painting && shapes.filter(isLong).map((e) => <Length key={e.key} shape={e} outside={!own.includes(e.key)} />)}
      {drafting && selected && shapes.filter((e) => e.leave && !e.view.image).map((e) => <Handles key={e.key} shape={e} />)}
      {chosen?.kind === "corner" && around.map((e, k) => {
        // where corners lie close their numbers would cover each other
        if (!roomy && !(e.view.own_node && e.view.node === chosen.node)) return null;
        const [n, m] = [outward(e), outward(around[(k + around.length - 1) % around.length] ?? e)];
        return <CornerNumber key={e.key} x={e.from.x - 9 * (n.x + m.x)} y={e.from.y - 9 * (n.y + m.y)} number={k + 1} />;
      })}
      {single && (selected || !aside) && nodesOf(piece.view).map(({ node, at }) => {
        const marked = (chosen?.kind === "corner" && chosen.node === node) || more.includes(node);
        const p = toScreen(camera, toTableFrame(piece.view, at));
        return <Node key={node} node={node} x={p.x} y={p.y} marked={marked} picking={picking} />;
      })}
    </Weighted>
  );
});

/** The weight of a piece's lines, heavier while it is selected. */
function Weighted({ piece, selected, children }: { piece: ShownPiece; selected: boolean; children: ReactNode }) {
  // paler paint rather than a group that is mixed in as a whole, which would be composed anew in every picture
  const pale = piece.doc.parked ? 0.45 : undefined;
  return (
    <g data-piece={piece.id} fillOpacity={pale} strokeOpacity={pale} strokeWidth={selected ? 2.2 : 1.4}>
      {children}
    </g>
  );
}

interface EdgeProps {
  path: string;
  /** The line that it can be taken hold of by; none on the half that a fold adds. */
  line: number | null;
  marked: boolean;
  inside: boolean;
  dashes: string | undefined;
}

/** One line of a piece; of many only those that changed are drawn again. */
const Edge = memo(function Edge({ path, line, marked, inside, dashes }: EdgeProps) {
  return (
    <g className="group">
      <path
        d={path}
        fill="none"
        stroke={marked ? "var(--color-thread)" : "var(--color-ink)"}
        strokeWidth={marked ? 3 : inside ? 1.3 : undefined}
        strokeDasharray={dashes}
        className="group-hover:stroke-thread"
        pointerEvents="none"
        strokeLinecap="round"
      />
      {line !== null && <path d={path} fill="none" stroke="transparent" strokeWidth={13} data-hit="edge" data-edge={line} pointerEvents="stroke" />}
    </g>
  );
});

/** One corner of a piece. */
const Node = memo(function Node({ node, x, y, marked, picking }: { node: number; x: number; y: number; marked: boolean; picking: boolean }) {
  return (
    <g data-hit="corner" data-corner={node} className={picking ? "cursor-move" : undefined}>
      <path d={diamond(x, y, 11.3)} fill="transparent" />
      <path d={diamond(x, y, 4.95)} fill={marked ? "var(--color-thread)" : "var(--color-card)"} stroke={marked ? "var(--color-thread)" : "var(--color-ink)"} strokeWidth={1.3} />
    </g>
  );
});

/** A square that stands on its corner. Things on the table are placed by coordinates: each transform of its own would make the browser compose one part more. */
const diamond = (x: number, y: number, half: number) => `M${x} ${y - half}l${half} ${half}l${-half} ${half}l${-half} ${-half}Z`;

/** Folds are dash and dot, stitching short dashes, other lines long ones. */
function dashes(purpose: ShownPiece["view"]["inside"][number]["purpose"]): string {
  if (typeof purpose === "object" && "fold" in purpose) return "9 3 2 3";
  return purpose === "stitching" ? "3 3" : "8 4";
}

function FoldAngles({ piece, camera, selected }: { piece: ShownPiece; camera: Camera; selected: boolean }) {
  return foldsOf(piece.view).map((fold) => {
    const [first, last] = [fold.lines[0], fold.lines[fold.lines.length - 1]];
    if (!first || !last) return null;
    const e = lineShape(piece, first, camera);
    return (
      <g key={`${fold.path} ${first.image}`} pointerEvents="none" data-fold={`${first.node} ${last.end}`}>
        {selected && (
          <text x={(e.from.x + e.to.x) / 2} y={(e.from.y + e.to.y) / 2 - 9} textAnchor="middle" className="figures fill-ink" paintOrder="stroke" stroke="var(--color-white)" strokeWidth={3}>
            {fold.purpose.fold.angle}°
          </text>
        )}
      </g>
    );
  });
}

/** The line along which the cloth is cut. */
function Cutting({ piece, camera }: { piece: ShownPiece; camera: Camera }) {
  if (piece.view.cutting.length === 0) return null;
  const loop = (points: { x: number; y: number }[]) => {
    const placed = points.map((p) => toScreen(camera, toTableFrame(piece.view, p)));
    return `M ${placed.map((p) => `${p.x.toFixed(2)} ${p.y.toFixed(2)}`).join(" L ")} Z`;
  };
  return <path d={piece.view.cutting.map(loop).join(" ")} fill="none" stroke="var(--color-ink-soft)" strokeWidth={1} pointerEvents="none" data-cutting />;
}

/** Drill holes and texts. */
function Marks({ piece, camera }: { piece: ShownPiece; camera: Camera }) {
  return piece.view.marks.map((m) => {
    const p = toScreen(camera, toTableFrame(piece.view, m.at));
    return m.text === null ? (
      <g key={m.mark} stroke="var(--color-ink)" strokeWidth={1.2} fill="none" pointerEvents="none" data-mark={m.mark}>
        <circle cx={p.x} cy={p.y} r={4.5} />
        <path d={`M${p.x - 7.5} ${p.y}h15M${p.x} ${p.y - 7.5}v15`} />
      </g>
    ) : (
      <text key={m.mark} x={p.x} y={p.y} textAnchor="middle" className="pointer-events-none fill-ink-soft text-[11px]" paintOrder="stroke" stroke="var(--color-white)" strokeWidth={3} data-mark={m.mark}>
        {m.text}
      </text>
    );
  });
}

/** A short stroke into the cloth, two beside each other for a double notch. */
function Notches({ piece, camera }: { piece: ShownPiece; camera: Camera }) {
  return piece.view.notches.map((n, k) => {
    const at = (along: number, deep: number) => {
      const d = { x: n.at.x + n.inwards.x * deep - n.inwards.y * along, y: n.at.y + n.inwards.y * deep + n.inwards.x * along };
      return toScreen(camera, toTableFrame(piece.view, d));
    };
    const strokes = (n.double ? [-2, 2] : [0]).map((px) => px / camera.scale);
    const deep = 7 / camera.scale;
    return (
      <g key={`${n.mark} ${k}`} stroke="var(--color-ink)" strokeWidth={1.4} pointerEvents="none" data-notch={n.mark}>
        {strokes.map((s) => {
          const [a, b] = [at(s, 0), at(s, deep)];
          return <line key={s} x1={a.x} y1={a.y} x2={b.x} y2={b.y} />;
        })}
      </g>
    );
  });
}

/** The number by which the docket calls a corner, just inside it. */
const CornerNumber = memo(function CornerNumber({ x, y, number }: { x: number; y: number; number: number }) {
  return (
    <text x={x} y={y} textAnchor="middle" dominantBaseline="middle" className="figures pointer-events-none fill-ink-soft text-[11px]" paintOrder="stroke" stroke="var(--color-white)" strokeWidth={3}>
      {number}
    </text>
  );
});

function Handles({ shape }: { shape: LineShape }) {
  if (!shape.leave || !shape.arrive) return null;
  const handle = (name: "leave" | "arrive", from: { x: number; y: number }, at: { x: number; y: number }) => (
    <g>
      <line x1={from.x} y1={from.y} x2={at.x} y2={at.y} stroke="var(--color-thread)" strokeWidth={1} pointerEvents="none" />
      <circle cx={at.x} cy={at.y} r={9} fill="transparent" data-hit="handle" data-handle={name} data-edge={shape.view.line} className="cursor-move" />
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

/** There is room for its length beside it. */
const isLong = (shape: LineShape) => Math.hypot(shape.to.x - shape.from.x, shape.to.y - shape.from.y) >= 34;

function Length({ shape, outside }: { shape: LineShape; outside: boolean }) {
  const unit = useDesk((s) => s.unit);
  const [at, n] = [pointOn(shape, 0.5), outward(shape)];
  // beside a steep edge there is more room outside, below a level one inside
  const side = outside && Math.abs(n.x) > 0.6 ? 1 : -1;
  return (
    <text
      x={at.x + side * n.x * (12 + 22 * Math.abs(n.x))}
      y={at.y + side * n.y * 16}
      textAnchor="middle"
      dominantBaseline="middle"
      className="figures pointer-events-none fill-ink"
      paintOrder="stroke"
      stroke="var(--color-white)"
      strokeWidth={3}
      data-length={shape.view.image ? undefined : shape.view.line}
    >
      {format(shape.view.length, unit)}
    </text>
  );
}

function Grain({ piece, camera }: { piece: ShownPiece; camera: Camera }) {
  const m = middle(piece);
  const [at, half] = [toScreen(camera, m), Math.min(m.height * 0.2 * camera.scale, 90)];
  if (half < 14) return null;
  const turn = ((90 - piece.doc.grain - piece.view.angle) * Math.PI) / 180;
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const to = (x: number, y: number) => `${(at.x + x * cos - y * sin).toFixed(2)} ${(at.y - half * 0.35 + x * sin + y * cos).toFixed(2)}`;
  return (
    <path d={`M${to(0, half)}L${to(0, -half)}M${to(-4, 8 - half)}L${to(0, -half)}L${to(4, 8 - half)}`} strokeWidth={1} stroke="var(--color-ink-soft)" fill="none" pointerEvents="none" />
  );
}

function Name({ piece, camera }: { piece: ShownPiece; camera: Camera }) {
  const spot = nameSpot(piece, camera);
  const aside = useDesk((s) => isAside(s.stage));
  if (!spot || (aside && !spot.fits)) return null;
  return (
    <text
      x={spot.x}
      y={spot.y}
      textAnchor="middle"
      paintOrder="stroke"
      stroke="var(--color-white)"
      strokeWidth={3}
      className={`pointer-events-none fill-ink font-heading font-semibold ${spot.fits ? "text-[14px]" : "text-[11px]"}`}
    >
      {piece.doc.name}
      {spot.withLine && (
        <tspan x={spot.x} dy={17} className="fill-ink-soft font-normal font-sans text-[11px]">
          <tspan fill={piece.fabric?.colour} stroke="var(--color-ink-soft)" strokeWidth={0.6} className="text-[13px]">
            ■
          </tspan>{" "}
          {nameLine(piece)}
        </tspan>
      )}
    </text>
  );
}
