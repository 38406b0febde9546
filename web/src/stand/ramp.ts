import type { CheckMap } from "../api/types";

type Colour = readonly [number, number, number];

/** How a map of the check is coloured and read. */
export interface Scale {
  /** In the legend and the docket. */
  name: string;
  /** What the low and the high end mean. */
  ends: readonly [string, string];
  /** Values with their sRGB colours, ascending; beyond the ends the colours stay. */
  stops: readonly (readonly [number, Colour])[];
  /** Values written under the bar. */
  marks: readonly number[];
  /** A mark as text. */
  write: (value: number) => string;
}

// lightness falls from linen towards both ends, so that the maps are read without telling red from green
const SLATE: Colour = [0.27, 0.36, 0.49];
const LINEN: Colour = [0.9, 0.87, 0.8];
const TAN: Colour = [0.86, 0.6, 0.44];
const BRICK: Colour = [0.61, 0.23, 0.13];

const signed = (v: number, text: string) => `${v > 0 ? "+" : v < 0 ? "−" : ""}${text}`;
const percent = (v: number) => signed(v, `${Math.abs(v * 100)}%`);

const strain = (name: string): Scale => ({
  name,
  ends: ["slack", "tight"],
  stops: [
    [-0.02, SLATE],
    [0, LINEN],
    [0.02, TAN],
    [0.05, BRICK],
  ],
  marks: [-0.02, 0, 0.02, 0.05],
  write: percent,
});

const pull = (name: string): Scale => ({
  name,
  ends: ["slack", "N/cm"],
  stops: [
    [0, LINEN],
    [0.5, TAN],
    [2, BRICK],
  ],
  marks: [0, 0.5, 1, 2],
  write: (v) => String(v),
});

/** All maps in the order of the choice: how far cloth is stretched, what its threads carry, how far it lies from the skin. */
export const SCALES: Record<CheckMap, Scale> = {
  tension: strain("Tension"),
  warp: strain("Along the warp"),
  weft: strain("Along the weft"),
  bias: strain("Along the bias"),
  slack: { name: "Slack and folds", ends: ["folded", "smooth"], stops: [[-0.2, SLATE], [-0.02, LINEN], [0.02, TAN]], marks: [-0.2, -0.1, 0], write: percent },
  "pull-warp": pull("Pull on the warp"),
  "pull-weft": pull("Pull on the weft"),
  ease: {
    name: "Ease",
    ends: ["close", "far, mm"],
    stops: [
      [2, BRICK],
      [8, TAN],
      [20, LINEN],
      [80, SLATE],
    ],
    marks: [2, 20, 40, 80],
    write: (v) => String(v),
  },
  touch: {
    name: "Touch",
    ends: ["free", "pressed, Pa"],
    stops: [
      [0, LINEN],
      [50, TAN],
      [300, BRICK],
    ],
    marks: [0, 50, 150, 300],
    write: (v) => String(v),
  },
};

/** How far a fitting lies outside (or inside) of another, mm. */
export const DIFFERENCE: Scale = {
  name: "From the first",
  ends: ["inside", "out, mm"],
  stops: [
    [-30, SLATE],
    [0, LINEN],
    [15, TAN],
    [30, BRICK],
  ],
  marks: [-30, -15, 0, 15, 30],
  write: (v) => signed(v, String(Math.abs(v))),
};

/** sRGB colour of a value on a scale. */
export function colourOn({ stops }: Scale, value: number): Colour {
  for (let i = 1; i < stops.length; i++) {
    const [a, b] = [stops[i - 1], stops[i]];
    if (a && b && value <= b[0]) {
      const t = Math.max(0, (value - a[0]) / (b[0] - a[0]));
      const mix = (k: 0 | 1 | 2) => a[1][k] * (1 - t) + b[1][k] * t;
      return [mix(0), mix(1), mix(2)];
    }
  }
  return stops[stops.length - 1]?.[1] ?? LINEN;
}

/** The maps by their number in the binary frames. */
export const MAPS = Object.keys(SCALES) as CheckMap[];
