import { useEffect, useRef, useState } from "react";
import { useDesk, useDeskOf } from "../desk/store";
import { known } from "../pointer/gesture";
import { evaluate, format } from "../ui/units";
import { type Camera, toScreen } from "./camera";
import { useSketch } from "./sketch";
import { loopOf } from "./tools/pen";

interface Props {
  camera: Camera;
  /** A rectangle or an ellipse of this size from the point that was pressed. */
  onBox: (width: number, height: number) => void;
  onDisc: (radius: number) => void;
}

type Field = "length" | "angle" | "x" | "y";

/** Numbers at the pointer while something is drawn: typed, they place the next point exactly. */
export function Numbers({ camera, onBox, onDisc }: Props) {
  const { nodes, at, typing } = useSketch();
  const { tool, unit } = useDeskOf("tool", "unit");
  const last = nodes[nodes.length - 1];
  useEffect(
    () =>
      known({
        active: () => {
          const { tool } = useDesk.getState();
          const s = useSketch.getState();
          return s.typing === null && s.nodes.length > 0 && ["outline", "half", "band", "oval", "disc", "measure"].includes(tool);
        },
        type: (typing) => useSketch.setState({ typing }),
      }),
    [],
  );
  if (typing === null || !last) return null;
  const p = toScreen(camera, at ?? last.at);
  const box = tool === "band" || tool === "oval";
  const size = box || tool === "disc";
  const place = (next: { x: number; y: number }) => {
    if (tool === "measure") useSketch.setState({ measured: [last.at, next], nodes: [], typing: null });
    else useSketch.setState({ nodes: [...nodes, { at: next, out: null }], at: next, typing: null });
  };
  const toPointer = () => useSketch.setState({ typing: null });
  const start = at ?? last.at;
  const angle = (Math.atan2(start.y - last.at.y, start.x - last.at.x) * 180) / Math.PI;
  return (
    <div className="absolute z-10 w-[168px] rounded-lg border border-edge bg-card p-2 shadow-lg" style={{ left: p.x + 18, top: p.y + 12 }} data-numbers>
      {size ? (
        <Fields
          names={box ? ["Width", "Height"] : ["Radius"]}
          first={typing}
          start={box ? ["", ""] : [""]}
          onCancel={toPointer}
          onDone={([a, b]) => {
            const [w, h] = [evaluate(a ?? "", unit), evaluate(b ?? "", unit)];
            if (box && w !== null && h !== null) onBox(w, h);
            if (tool === "disc" && w !== null) onDisc(w);
          }}
        />
      ) : (
        <Fields
          names={["Length", "Angle", "Across", "Up"]}
          first={typing}
          onCancel={toPointer}
          start={["", angle.toFixed(1), format(start.x, unit, false), format(start.y, unit, false)]}
          onDone={(texts, touched) => {
            const read = (f: Field, k: number) => (touched.has(k) || f === "angle" ? evaluate(texts[k] ?? "", f === "angle" ? "plain" : unit) : null);
            const [length, turn, x, y] = [read("length", 0), read("angle", 1), read("x", 2), read("y", 3)];
            if (x !== null || y !== null) return place({ x: x ?? start.x, y: y ?? start.y });
            const reach = length ?? Math.hypot(start.x - last.at.x, start.y - last.at.y);
            const radians = ((turn ?? angle) * Math.PI) / 180;
            place({ x: last.at.x + reach * Math.cos(radians), y: last.at.y + reach * Math.sin(radians) });
          }}
        />
      )}
      {(tool === "outline" || tool === "half") && <p className="mt-1 text-[11px] text-ink-soft">Enter sets point {loopOf(nodes).length + 1}; Escape leaves it to the pointer</p>}
    </div>
  );
}

interface FieldsProps {
  names: string[];
  first: string;
  start: string[];
  onDone: (texts: string[], touched: Set<number>) => void;
  onCancel: () => void;
}

/** Fields for lengths and angles, the first of them focused. */
export function Fields({ names, first, start, onDone, onCancel }: FieldsProps) {
  const [texts, setTexts] = useState(() => [first, ...start.slice(1)]);
  const touched = useRef(new Set([0]));
  const unit = useDesk((s) => s.unit);
  const box = useRef<HTMLInputElement>(null);
  useEffect(() => {
    box.current?.focus();
    // a press that opened it gives the focus to the table once more; one who is already in the next field stays there
    const later = window.setTimeout(() => {
      if (!(document.activeElement instanceof HTMLInputElement)) box.current?.focus();
    });
    return () => window.clearTimeout(later);
  }, []);
  return (
    <>
      {names.map((name, k) => (
        <label key={name} className="flex items-center justify-between gap-2 py-px text-ink-soft">
          {name}
          <span className="flex h-7 w-[92px] items-center rounded border border-line bg-white pr-1.5 focus-within:border-ink">
            <input
              ref={k === 0 ? box : undefined}
              aria-label={`${name} at the pointer`}
              className="figures w-full bg-transparent px-1.5 text-right text-ink outline-none"
              value={texts[k]}
              onChange={(e) => {
                touched.current.add(k);
                setTexts(texts.map((t, j) => (j === k ? e.target.value : t)));
              }}
              onFocus={(e) => k > 0 && e.target.select()}
              onKeyDown={(e) => {
                if (e.key === "Enter") onDone(texts, touched.current);
                if (e.key === "Escape") onCancel();
                e.stopPropagation();
              }}
            />
            <span className="figures text-[11px] text-ink-soft">{name === "Angle" ? "°" : unit}</span>
          </span>
        </label>
      ))}
    </>
  );
}
