// Counts crossings in delivered files by itself: exact whole numbers instead of floating point, a lattice instead of a sweep.
// node crossings.mjs GARMENT.obj BODY.obj prints, for cloth with cloth and cloth with body, crossing pairs and the places they form.
import { readFileSync } from "node:fs";

/** Metres to whole numbers: every float of more than 2^-36 m is one. */
const SCALE = 2 ** 60;
/** Side of a cell of the lattice, m. */
const CELL = 0.02;

function read(file) {
  const [at, faces] = [[], []];
  for (const line of readFileSync(file, "utf8").split("\n")) {
    const words = line.trim().split(/\s+/);
    if (words[0] === "v") at.push(words.slice(1, 4).map((w) => Math.fround(Number(w))));
    if (words[0] === "f") faces.push(words.slice(1).map((w) => Number.parseInt(w, 10) - 1));
  }
  const whole = at.map((p) =>
    p.map((v) => {
      if (!Number.isInteger(v * SCALE)) throw new Error(`${v} is finer than the whole numbers here`);
      return BigInt(v * SCALE);
    }),
  );
  return { at, whole, faces };
}

/** The side of the plane abc on which d lies: 1, 0 or -1. */
function side(a, b, c, d) {
  const [u, v, w] = [b, c, d].map((p) => [p[0] - a[0], p[1] - a[1], p[2] - a[2]]);
  const volume = u[0] * (v[1] * w[2] - v[2] * w[1]) - u[1] * (v[0] * w[2] - v[2] * w[0]) + u[2] * (v[0] * w[1] - v[1] * w[0]);
  return volume > 0n ? 1 : volume < 0n ? -1 : 0;
}

/** Whether pq goes from one side of the triangle to the other, strictly within it. */
function pierces(p, q, [a, b, c]) {
  const [above, below] = [side(a, b, c, p), side(a, b, c, q)];
  if (above * below !== -1) return false;
  const around = [side(p, q, a, b), side(p, q, b, c), side(p, q, c, a)];
  return around.every((s) => s === 1) || around.every((s) => s === -1);
}

function cross(s, t) {
  const edges = (f) => [0, 1, 2].map((k) => [f[k], f[(k + 1) % 3]]);
  return edges(s).some(([p, q]) => pierces(p, q, t)) || edges(t).some(([p, q]) => pierces(p, q, s));
}

/** Pairs of triangles whose boxes share a cell and meet, each once. */
function* near(first, second) {
  const boxes = ({ at, faces }) => faces.map((f) => [Math.min, Math.max].map((pick) => [0, 1, 2].map((k) => pick(...f.map((v) => at[v][k])))));
  const [a, b] = [boxes(first), boxes(second)];
  const cell = (v) => Math.floor(v / CELL);
  const cells = new Map();
  const over = function* ([low, high]) {
    for (let x = cell(low[0]); x <= cell(high[0]); x++) for (let y = cell(low[1]); y <= cell(high[1]); y++) for (let z = cell(low[2]); z <= cell(high[2]); z++) yield `${x} ${y} ${z}`;
  };
  b.forEach((box, t) => {
    for (const key of over(box)) cells.set(key, [...(cells.get(key) ?? []), t]);
  });
  for (let s = 0; s < a.length; s++) {
    const met = new Set();
    for (const key of over(a[s])) for (const t of cells.get(key) ?? []) met.add(t);
    for (const t of met) {
      if (first === second && t <= s) continue;
      if ([0, 1, 2].every((k) => a[s][0][k] <= b[t][1][k] && b[t][0][k] <= a[s][1][k])) yield [s, t];
    }
  }
}

/** Crossing pairs of two surfaces, and how many places they form: those whose cloth triangles hang together. */
function count(first, second) {
  const group = new Map();
  const root = (v) => {
    while (group.has(v)) v = group.get(v);
    return v;
  };
  const roots = [];
  let pairs = 0;
  for (const [s, t] of near(first, second)) {
    const corners = (mesh, f) => mesh.faces[f].map((v) => mesh.whole[v]);
    if (!cross(corners(first, s), corners(second, t))) continue;
    pairs++;
    const cloth = first === second ? [...first.faces[s], ...first.faces[t]] : first.faces[s];
    for (const v of cloth) {
      const [one, other] = [root(v), root(cloth[0])];
      if (one !== other) group.set(one, other);
    }
    roots.push(cloth[0]);
  }
  return { pairs, places: new Set(roots.map(root)).size };
}

const [garment, body] = process.argv.slice(2).map(read);
console.log(JSON.stringify({ cloth_cloth: count(garment, garment), cloth_body: count(garment, body) }));
