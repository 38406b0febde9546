import type { Edit, Point } from "../api/types";
import { type Tool, useDesk, usePointer } from "../desk/store";
import { format } from "../ui/units";
import { type Camera, toScreen } from "./camera";
import { useDraft } from "./draft";
import { useMarquee } from "./marquee";
import { type AskedOf, type Drawn, useSketch } from "./sketch";
import { halfOf } from "./tools/pen";

/** What is being drawn, with live lengths, and the reason of a snap beside the pointer. */
export function Sketch({ camera }: { camera: Camera }) {
  const { nodes, stroke, begun, at, label, measured, traced, asked } = useSketch();
  const tool = useDesk((s) => s.tool);
  const box = useMarquee((s) => s.box);
  const place = at && toScreen(camera, at);
  return (
    <g pointerEvents="none" data-sketch={nodes.length + begun.length}>
      {(tool === "outline" || tool === "half") && <Loop camera={camera} nodes={nodes} at={at} mirrored={tool === "half"} />}
      {tool === "band" && nodes[0] && at && <Way camera={camera} points={[nodes[0].at, { x: at.x, y: nodes[0].at.y }, at, { x: nodes[0].at.x, y: at.y }, nodes[0].at]} />}
      {tool === "oval" && nodes[0] && at && <Oval camera={camera} from={nodes[0].at} to={at} />}
      {tool === "disc" && nodes[0] && at && <Disc camera={camera} middle={nodes[0].at} rim={at} />}
      {tool === "freehand" && stroke.length > 1 && <path d={line(camera, stroke)} fill="none" stroke="var(--color-thread)" strokeWidth={1.6} />}
      {tool === "through" && begun.length > 1 && <Way camera={camera} points={[...begun.slice(1).map((b) => b.at), ...(at ? [at] : [])]} dots />}
      {tool !== "through" && begun.length > 0 && <Way camera={camera} points={[...begun.map((b) => b.at), ...(at ? [at] : [])]} dots />}
      {tool === "paint" && <Brush camera={camera} />}
      {tool === "measure" && <Measured camera={camera} points={measured ?? (nodes[0] && at ? [nodes[0].at, at] : null)} />}
      {MARKING.includes(tool) && <Marked camera={camera} points={nodes.map((n) => n.at)} at={at} asked={asked} closes={tool === "straighten"} />}
      {traced && <Found camera={camera} edit={traced.edit} />}
      {box && <rect x={Math.min(box.from.x, box.to.x)} y={Math.min(box.from.y, box.to.y)} width={Math.abs(box.to.x - box.from.x)} height={Math.abs(box.to.y - box.from.y)} fill="var(--color-thread)" fillOpacity={0.06} stroke="var(--color-thread)" strokeDasharray="5 3" />}
      {place && label && (
        <g transform={`translate(${place.x + 14} ${place.y - 22})`}>
          <rect width={label.length * 6.6 + 14} height={20} rx={4} fill="var(--color-ink)" />
          <text x={7} y={14} className="fill-card text-[11px]">
            {label}
          </text>
        </g>
      )}
    </g>
  );
}

/** The rim of the brush around the pointer. */
function Brush({ camera }: { camera: Camera }) {
  const at = usePointer((s) => s.at);
  const { brush, paintWith } = useDraft();
  if (!at || paintWith === "gradient") return null;
  const p = toScreen(camera, at);
  return <circle cx={p.x} cy={p.y} r={brush * camera.scale} fill="none" stroke="var(--color-thread)" strokeWidth={1.4} strokeDasharray={paintWith === "rub-out" ? "4 3" : undefined} data-brush />;
}

const MARKING: Tool[] = ["two-points", "ruler", "straighten"];

const line = (camera: Camera, points: Point[]) =>
  `M ${points
    .map((p) => toScreen(camera, p))
    .map((p) => `${p.x} ${p.y}`)
    .join(" L ")}`;

/** A length beside the middle of a stretch. */
function Length({ camera, from, to, mm }: { camera: Camera; from: Point; to: Point; mm: number }) {
  const unit = useDesk((s) => s.unit);
  const [p, q] = [toScreen(camera, from), toScreen(camera, to)];
  if (Math.hypot(p.x - q.x, p.y - q.y) < 24) return null;
  return (
    <text x={(p.x + q.x) / 2} y={(p.y + q.y) / 2 - 8} textAnchor="middle" className="figures fill-thread" paintOrder="stroke" stroke="var(--color-sheet)" strokeWidth={3}>
      {format(mm, unit)}
    </text>
  );
}

const far = (a: Point, b: Point) => Math.hypot(a.x - b.x, a.y - b.y);

function Way({ camera, points, dots = false }: { camera: Camera; points: Point[]; dots?: boolean }) {
  return (
    <>
      <path d={line(camera, points)} fill="var(--color-thread)" fillOpacity={dots ? 0 : 0.06} stroke="var(--color-thread)" strokeWidth={1.6} />
      {points.slice(1).map((p, i) => {
        const q = points[i];
        return q && <Length key={`${i}`} camera={camera} from={q} to={p} mm={far(q, p)} />;
      })}
      {dots && points.map((p, i) => <Knot key={`${i}`} camera={camera} at={p} first={i === 0} />)}
    </>
  );
}

function Knot({ camera, at, first }: { camera: Camera; at: Point; first: boolean }) {
  const p = toScreen(camera, at);
  return <rect x={p.x - 3.5} y={p.y - 3.5} width={7} height={7} fill={first ? "var(--color-thread)" : "var(--color-card)"} stroke="var(--color-thread)" />;
}

/** The stretch from one drawn point to the next as the end of a path. */
function stretch(camera: Camera, a: Drawn, b: Drawn): string {
  const to = toScreen(camera, b.at);
  if (!a.out && !b.out) return `L ${to.x} ${to.y}`;
  const leave = toScreen(camera, { x: a.at.x + (a.out?.x ?? 0), y: a.at.y + (a.out?.y ?? 0) });
  const arrive = toScreen(camera, { x: b.at.x - (b.out?.x ?? 0), y: b.at.y - (b.out?.y ?? 0) });
  return `C ${leave.x} ${leave.y} ${arrive.x} ${arrive.y} ${to.x} ${to.y}`;
}

/** Length of a stretch, by chords of its curve. */
function lengthOf(a: Drawn, b: Drawn): number {
  if (!a.out && !b.out) return far(a.at, b.at);
  const [p, q] = [a.at, b.at];
  const u = { x: p.x + (a.out?.x ?? 0), y: p.y + (a.out?.y ?? 0) };
  const v = { x: q.x - (b.out?.x ?? 0), y: q.y - (b.out?.y ?? 0) };
  const point = (t: number): Point => {
    const mix = (k: "x" | "y") => (1 - t) ** 3 * p[k] + 3 * (1 - t) ** 2 * t * u[k] + 3 * (1 - t) * t * t * v[k] + t ** 3 * q[k];
    return { x: mix("x"), y: mix("y") };
  };
  let sum = 0;
  for (let k = 0; k < 32; k++) sum += far(point(k / 32), point((k + 1) / 32));
  return sum;
}

/** An outline with what would come next; a half with its image across the fold. */
function Loop({ camera, nodes, at, mirrored }: { camera: Camera; nodes: Drawn[]; at: Point | null; mirrored: boolean }) {
  const [first] = nodes;
  if (!first) return null;
  const last = nodes[nodes.length - 1] ?? first;
  // a curve that is being drawn out has its end under the pointer already
  const open: Drawn[] = at && !(last.out && far(at, { x: last.at.x + last.out.x, y: last.at.y + last.out.y }) < 1e-6) ? [...nodes, { at, out: null }] : nodes;
  const way = mirrored ? halfOf(open) : open;
  const image = (n: Drawn): Drawn => ({ at: { x: 2 * first.at.x - n.at.x, y: n.at.y }, out: n.out && { x: -n.out.x, y: n.out.y } });
  const path = (all: Drawn[]) => {
    const [begin, ...rest] = all;
    if (!begin) return "";
    const p = toScreen(camera, begin.at);
    return `M ${p.x} ${p.y} ${rest.map((n, i) => stretch(camera, all[i] ?? begin, n)).join(" ")}`;
  };
  const low = toScreen(camera, first.at);
  return (
    <>
      {mirrored && <line x1={low.x} y1={low.y - 4000} x2={low.x} y2={low.y + 4000} stroke="var(--color-ink-soft)" strokeWidth={1} strokeDasharray="12 4 2 4" />}
      {mirrored && <path d={path(way.map(image))} fill="var(--color-thread)" fillOpacity={0.03} stroke="var(--color-thread)" strokeWidth={1} strokeOpacity={0.55} strokeDasharray="4 3" />}
      <path d={path(way)} fill="var(--color-thread)" fillOpacity={0.06} stroke="var(--color-thread)" strokeWidth={1.6} />
      {open.slice(1).map((n, i) => {
        const q = open[i];
        return q && <Length key={`${i}`} camera={camera} from={q.at} to={n.at} mm={lengthOf(q, n)} />;
      })}
      {nodes.map((n, i) => <Knot key={`${i}`} camera={camera} at={n.at} first={i === 0} />)}
      {last.out && <Reach camera={camera} node={last} />}
    </>
  );
}

/** Both handles of a point that is drawn smooth. */
function Reach({ camera, node }: { camera: Camera; node: Drawn }) {
  if (!node.out) return null;
  const a = toScreen(camera, { x: node.at.x + node.out.x, y: node.at.y + node.out.y });
  const b = toScreen(camera, { x: node.at.x - node.out.x, y: node.at.y - node.out.y });
  return (
    <>
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--color-thread)" strokeWidth={1} />
      {[a, b].map((p, k) => (
        <circle key={`${k}`} cx={p.x} cy={p.y} r={3.5} fill="var(--color-card)" stroke="var(--color-thread)" />
      ))}
    </>
  );
}

function Disc({ camera, middle, rim }: { camera: Camera; middle: Point; rim: Point }) {
  const [p, radius] = [toScreen(camera, middle), far(middle, rim)];
  return (
    <>
      <circle cx={p.x} cy={p.y} r={radius * camera.scale} fill="var(--color-thread)" fillOpacity={0.06} stroke="var(--color-thread)" strokeWidth={1.6} />
      <Way camera={camera} points={[middle, rim]} />
    </>
  );
}

/** An ellipse in its box. */
function Oval({ camera, from, to }: { camera: Camera; from: Point; to: Point }) {
  const p = toScreen(camera, { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 });
  const [rx, ry] = [(Math.abs(to.x - from.x) / 2) * camera.scale, (Math.abs(to.y - from.y) / 2) * camera.scale];
  const corner = { x: to.x, y: from.y };
  return (
    <>
      <ellipse cx={p.x} cy={p.y} rx={rx} ry={ry} fill="var(--color-thread)" fillOpacity={0.06} stroke="var(--color-thread)" strokeWidth={1.6} />
      <Length camera={camera} from={from} to={corner} mm={far(from, corner)} />
      <Length camera={camera} from={corner} to={to} mm={far(corner, to)} />
    </>
  );
}

/** A measured distance: straight, and its parts across and up. */
function Measured({ camera, points }: { camera: Camera; points: [Point, Point] | null }) {
  const unit = useDesk((s) => s.unit);
  if (!points) return null;
  const [a, b] = points;
  const [p, q] = [toScreen(camera, a), toScreen(camera, b)];
  const words = `${format(far(a, b), unit)}   across ${format(Math.abs(b.x - a.x), unit, false)}   up ${format(Math.abs(b.y - a.y), unit)}`;
  return (
    <g data-measured={far(a, b).toFixed(2)}>
      <path d={`M ${p.x} ${p.y} L ${q.x} ${p.y} L ${q.x} ${q.y}`} fill="none" stroke="var(--color-ink-soft)" strokeDasharray="3 3" />
      <path d={`M ${p.x} ${p.y} L ${q.x} ${q.y}`} stroke="var(--color-thread)" strokeWidth={1.8} />
      {[p, q].map((e, k) => (
        <circle key={`${k}`} cx={e.x} cy={e.y} r={3.5} fill="var(--color-thread)" />
      ))}
      <g transform={`translate(${(p.x + q.x) / 2 + 10} ${(p.y + q.y) / 2 - 26})`}>
        <rect width={words.length * 6.9 + 16} height={22} rx={4} fill="var(--color-ink)" />
        <text x={8} y={15} className="figures fill-card">
          {words}
        </text>
      </g>
    </g>
  );
}

/** Places marked on a picture, each with a cross. */
function Marked({ camera, points, at, asked, closes }: { camera: Camera; points: Point[]; at: Point | null; asked: AskedOf | null; closes: boolean }) {
  if (points.length === 0) return null;
  const open = at && !asked ? [...points, at] : points;
  const [first] = points;
  const way = closes && first && open.length > 2 ? [...open, first] : open;
  return (
    <>
      <path d={line(camera, way)} fill="none" stroke="var(--color-thread)" strokeWidth={1.4} />
      {points.map((p, k) => {
        const q = toScreen(camera, p);
        return <path key={`${k}`} d={`M ${q.x - 7} ${q.y} h 14 M ${q.x} ${q.y - 7} v 14`} stroke="var(--color-thread)" strokeWidth={1.6} />;
      })}
    </>
  );
}

/** An outline found in a picture, with its corners. */
function Found({ camera, edit }: { camera: Camera; edit: Edit }) {
  if (edit.do !== "add-piece") return null;
  const place = (p: Point) => toScreen(camera, { x: edit.at.x + p.x, y: edit.at.y + p.y });
  const [first] = edit.points;
  if (!first) return null;
  const start = place(first);
  const parts = edit.points.map((p, k) => {
    const to = place(edit.points[(k + 1) % edit.points.length] ?? p);
    if (!p.handles) return `L ${to.x} ${to.y}`;
    const [a, b] = p.handles.map(place) as [Point, Point];
    return `C ${a.x} ${a.y} ${b.x} ${b.y} ${to.x} ${to.y}`;
  });
  return (
    <g data-found={edit.points.length}>
      <path d={`M ${start.x} ${start.y} ${parts.join(" ")} Z`} fill="var(--color-thread)" fillOpacity={0.1} stroke="var(--color-thread)" strokeWidth={2} />
      {edit.points.map((p, k) => (
        <Knot key={`${k}`} camera={camera} at={{ x: edit.at.x + p.x, y: edit.at.y + p.y }} first={false} />
      ))}
    </g>
  );
}
