/** Tension colours: slate (slack), linen (at rest), brick (tight). Even in lightness steps and safe for colour-blind eyes. */
const STOPS: [number, [number, number, number]][] = [
  [-0.02, [0.27, 0.36, 0.49]],
  [0, [0.9, 0.87, 0.8]],
  [0.02, [0.86, 0.6, 0.44]],
  [0.05, [0.61, 0.23, 0.13]],
];

/** sRGB colour of a strain (0.02 = 2 %). */
export function tensionColour(strain: number): [number, number, number] {
  const last = STOPS[STOPS.length - 1];
  for (let i = 1; i < STOPS.length; i++) {
    const [a, b] = [STOPS[i - 1], STOPS[i]];
    if (a && b && strain <= b[0]) {
      const t = Math.max(0, (strain - a[0]) / (b[0] - a[0]));
      return [0, 1, 2].map((k) => (a[1][k] ?? 0) * (1 - t) + (b[1][k] ?? 0) * t) as [number, number, number];
    }
  }
  return last?.[1] ?? [0.6, 0.2, 0.1];
}

export const TENSION_MARKS = [-0.02, 0, 0.02, 0.05];
