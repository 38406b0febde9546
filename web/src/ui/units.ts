export type Unit = "cm" | "in";

const PER_UNIT = { mm: 1, cm: 10, m: 1000, in: 25.4, '"': 25.4 } as const;

/** A length in mm as text. */
export function format(mm: number, unit: Unit, withUnit = true): string {
  const text = unit === "cm" ? (mm / 10).toFixed(1) : (mm / 25.4).toFixed(2);
  return withUnit ? `${text} ${unit}` : text;
}

/** The same with a sign, for differences. */
export const formatSigned = (mm: number, unit: Unit) => `${mm < 0 ? "−" : "+"}${format(Math.abs(mm), unit)}`;

/**
 * Reads "12.5+1", "5in" or "(3+4)*2cm" as mm; numbers without a unit count in the unit shown ("plain": as they are).
 * Returns null when it cannot be read.
 */
export function evaluate(source: string, unit: Unit | "plain"): number | null {
  const tokens = source.toLowerCase().replaceAll(",", ".").match(/\d+\.?\d*|\.\d+|mm|cm|in|m|["+\-*/()]|\S/g) ?? [];
  let at = 0;
  const own = unit === "plain" ? 1 : PER_UNIT[unit];
  // a value knows whether it is a length already
  type Value = { n: number; length: boolean };
  const fail = Symbol("unreadable");
  const factor = (): Value => {
    const token = tokens[at];
    at += 1;
    if (token === "-") {
      const v = factor();
      return { ...v, n: -v.n };
    }
    if (token === "(") {
      const v = sum();
      if (tokens[at] !== ")") throw fail;
      at += 1;
      return suffix(v);
    }
    const n = Number(token);
    if (token === undefined || Number.isNaN(n)) throw fail;
    return suffix({ n, length: false });
  };
  const suffix = (v: Value): Value => {
    const token = tokens[at] as keyof typeof PER_UNIT | undefined;
    if (token === undefined || !(token in PER_UNIT) || v.length || unit === "plain") return v;
    at += 1;
    return { n: v.n * PER_UNIT[token], length: true };
  };
  const product = (): Value => {
    let v = factor();
    while (tokens[at] === "*" || tokens[at] === "/") {
      const times = tokens[at] === "*";
      at += 1;
      const w = factor();
      if ((w.length && v.length) || (w.length && !times)) throw fail;
      v = { n: times ? v.n * w.n : v.n / w.n, length: v.length || w.length };
    }
    return v;
  };
  const mm = (v: Value) => (v.length ? v.n : v.n * own);
  const sum = (): Value => {
    let v = product();
    while (tokens[at] === "+" || tokens[at] === "-") {
      const sign = tokens[at] === "+" ? 1 : -1;
      at += 1;
      const w = product();
      v = { n: mm(v) + sign * mm(w), length: true };
    }
    return v;
  };
  try {
    const result = mm(sum());
    return at === tokens.length && Number.isFinite(result) ? result : null;
  } catch {
    return null;
  }
}
