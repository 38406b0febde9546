/** A number moved into its range. */
export const within = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
