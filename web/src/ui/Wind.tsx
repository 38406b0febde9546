/** Upper limit in m/s and word of every Beaufort number. */
const BEAUFORT: [number, string][] = [
  [0.2, "calm"],
  [1.5, "light air"],
  [3.3, "light breeze"],
  [5.4, "gentle breeze"],
  [7.9, "moderate breeze"],
  [10.7, "fresh breeze"],
  [13.8, "strong breeze"],
  [17.1, "near gale"],
  [20.7, "gale"],
  [24.4, "strong gale"],
  [Number.POSITIVE_INFINITY, "storm"],
];

/** The Beaufort number of a wind in m/s. */
export const forceOf = (speed: number) => BEAUFORT.findIndex(([limit]) => speed <= limit);

/** The same in words. */
export const forceWord = (speed: number) => BEAUFORT[forceOf(speed)]?.[1] ?? "";

/** Where wind may come from, in degrees and words. */
export const SIDES = [
  ["0", "the front"],
  ["45", "its left front"],
  ["90", "its left"],
  ["135", "its left back"],
  ["180", "the back"],
  ["225", "its right back"],
  ["270", "its right"],
  ["315", "its right front"],
] as const;

/** Seen from above, the body facing down the card: drag around to say where the wind comes from. */
export function Compass({ from, strength, onTurn }: { from: number; strength: number; onTurn: (degrees: number) => void }) {
  const at = (degrees: number, r: number) => [32 + r * Math.sin((degrees * Math.PI) / 180), 32 + r * Math.cos((degrees * Math.PI) / 180)] as const;
  const [x, y] = at(from, 25);
  const [tx, ty] = at(from, 9);
  const turn = (e: React.PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const degrees = (Math.atan2(e.clientX - box.left - 32, e.clientY - box.top - 32) * 180) / Math.PI;
    onTurn((Math.round(degrees / 5) * 5 + 360) % 360);
  };
  return (
    <svg width={64} height={64} role="img" aria-label="Where the wind comes from" className="shrink-0 cursor-pointer touch-none" data-compass={from} onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)} onPointerUp={turn}>
      <circle cx={32} cy={32} r={29} className="fill-sheet stroke-edge" />
      {[0, 90, 180, 270].map((d) => {
        const [[a, b], [c, e]] = [at(d, 29), at(d, 25)];
        return <line key={d} x1={a} y1={b} x2={c} y2={e} className="stroke-ink-soft" />;
      })}
      <ellipse cx={32} cy={32} rx={8} ry={5} className="fill-edge" />
      <circle cx={32} cy={35} r={2.2} className="fill-ink-soft" />
      <line x1={x} y1={y} x2={tx} y2={ty} className="stroke-thread" strokeWidth={strength > 0 ? 2.5 : 1} strokeDasharray={strength > 0 ? undefined : "2 3"} />
      <circle cx={x} cy={y} r={4} className="fill-thread" />
    </svg>
  );
}
