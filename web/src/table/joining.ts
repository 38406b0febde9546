import { create } from "zustand";
import type { Edit, PieceId, Run, RunView } from "../api/types";
import { trials, useTrial } from "../desk/trial";
import type { ShownPattern } from "./shown";

/** A seam that is being put together: stretches of either side, in the order in which they were chosen. */
interface Joining {
  a: Run[];
  b: Run[];
  /** The side that further stretches go to. */
  side: "a" | "b";
  /** The first stretch was chosen with Shift: further ones with Shift are of the same side. */
  many: boolean;
  /** Side b the other way round than is found. */
  turned: boolean;
  /** Equal parts of side a go to the stretches of side b, a seam for each. */
  parts: boolean;
  /** The stretch under the pointer while it is drawn along an outline. */
  drawn: Run | null;
}

const nothing: Joining = { a: [], b: [], side: "a", many: false, turned: false, parts: false, drawn: null };

export const useJoining = create<Joining>(() => nothing);

/** A whole line, or a stretch of it. */
export const runOf = (piece: PieceId, line: number, from = 0, to = 1): Run => ({ piece, line, ...(from === 0 ? {} : { from }), ...(to === 1 ? {} : { to }) });

const same = (x: Run, y: Run) => x.piece === y.piece && x.line === y.line && (x.from ?? 0) === (y.from ?? 0) && (x.to ?? 1) === (y.to ?? 1);

/** What is sewn with the two sides as they are; null while one of them is empty. */
export function edit({ a, b, turned, parts }: Joining): Edit | null {
  if (a.length === 0 || b.length === 0) return null;
  if (parts) return { do: "sew-parts", a, b };
  if (!turned) return { do: "sew-together", a, b };
  const found = tried();
  if (!found) return { do: "sew-together", a, b };
  return { do: "sew", a: found.a, b: found.b };
}

/** The sides as the server directs them, with b turned round. */
let directed: { a: Run[]; b: Run[] } | null = null;
const tried = () => directed;

/** Takes up what the server found for the two sides. */
export function hearDirected(runs: { a: Run[]; b: Run[] } | null) {
  if (!useJoining.getState().turned) directed = runs && { a: runs.a, b: turnedRound(runs.b) };
}

const turnedRound = (runs: Run[]) => [...runs].reverse().map((r): Run => runOf(r.piece, r.line, r.to ?? 1, r.from ?? 0));

/** A stretch as it is shown, in the words of the document. */
export function documentRun(pattern: ShownPattern, run: RunView): Run | null {
  if (run.image) return null;
  const view = pattern.pieces.find((p) => p.id === run.piece)?.view;
  const line = view && [...view.outline, ...view.cutouts.flat(), ...view.inside.flatMap((p) => p.lines)].find((l) => l.line === run.line && !l.image);
  return line?.turned ? runOf(run.piece, run.line, 1 - run.from, 1 - run.to) : runOf(run.piece, run.line, run.from, run.to);
}

/** Shows what the seam would come to, once both sides have a stretch. */
function show() {
  const made = edit(useJoining.getState());
  if (made) trials.show(made);
  else if (useTrial.getState().edit) trials.clear();
}

export const joining = {
  begun: () => useJoining.getState().a.length > 0,
  /** Both sides have a stretch: it can be sewn. */
  ready: () => useJoining.getState().b.length > 0,
  clear: () => {
    if (useJoining.getState() !== nothing) useJoining.setState(nothing);
    directed = null;
  },
  /** Begins anew with one line. */
  begin: (run: Run, many = false) => {
    directed = null;
    useJoining.setState({ ...nothing, a: [run], many });
  },
  /** Adds a stretch to the present side; one that is there is taken out again. */
  add: (run: Run) => {
    useJoining.setState((s) => {
      const now = s[s.side];
      const next = now.some((r) => same(r, run)) ? now.filter((r) => !same(r, run)) : [...now, run];
      return { [s.side]: next, turned: false } as Pick<Joining, "a" | "turned">;
    });
    show();
  },
  other: () => useJoining.setState((s) => ({ side: s.side === "a" ? "b" : "a" })),
  turn: () => {
    useJoining.setState((s) => ({ turned: !s.turned }));
    show();
  },
  setParts: (parts: boolean) => {
    useJoining.setState({ parts });
    show();
  },
  draw: (drawn: Run | null) => useJoining.setState({ drawn }),
  /** Takes out the stretch that was chosen last. */
  back: () => {
    useJoining.setState((s) => (s.b.length > 0 ? { b: s.b.slice(0, -1), side: "b" } : { a: s.a.slice(0, -1), side: "a" }));
    show();
  },
};
