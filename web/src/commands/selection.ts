import type { Edit, PieceView, Point } from "../api/types";
import { desk, type Selection, selectedNodes, selectedPieces, useDesk } from "../desk/store";
import { joining, runOf } from "../table/joining";
import { take } from "../table/tools/sewing";
import { allLines, nodesOf, toPieceFrame, toTableFrame } from "../table/shown";
import type { Command, Scene } from "./command";

/** Steps of the arrows, mm. */
const STEP = 1;
const LONG_STEP = 10;

const chosen = (scene: Scene): PieceView | undefined => {
  const { selection } = useDesk.getState();
  return selection && selection.kind !== "seam" ? scene.state.pattern.pieces.find((v) => v.piece === selection.piece) : undefined;
};

/** Takes out what is selected. */
export function removeSelected({ actions, state }: Pick<Scene, "actions"> & Partial<Pick<Scene, "state">>) {
  const { selection } = useDesk.getState();
  const all = (edits: Edit[]) => {
    const [only] = edits;
    if (only) actions.edit(edits.length === 1 ? only : { do: "batch", edits });
  };
  if (selection?.kind === "corner") all(selectedNodes(useDesk.getState()).map((node) => ({ do: "remove-node", piece: selection.piece, node })));
  if (selection?.kind === "piece") all(selectedPieces(useDesk.getState()).map((piece) => ({ do: "remove-piece", piece })));
  if (selection?.kind === "seam") actions.edit({ do: "unpick", seam: selection.seam });
  // a line inside, or the hole that a line is of; an edge of the outline goes with its corners
  const view = selection?.kind === "edge" ? state?.pattern.pieces.find((v) => v.piece === selection.piece) : undefined;
  if (selection?.kind === "edge" && view) {
    const path = view.inside.find((p) => p.lines.some((l) => l.line === selection.line));
    const hole = view.cutouts.some((c) => c.some((l) => l.line === selection.line));
    if (path) actions.edit({ do: "remove-inside", piece: selection.piece, path: path.path });
    else if (hole) actions.edit({ do: "remove-cutout", piece: selection.piece, line: selection.line });
    else return;
  }
  desk.select(null);
}

/** Moves the selected corner or piece across the table; the server refuses what it refuses to the pointer. */
function nudge(scene: Scene, by: Point) {
  const view = chosen(scene);
  const { selection } = useDesk.getState();
  if (!view || !selection) return;
  const moved = (p: Point) => ({ x: p.x + by.x, y: p.y + by.y });
  const pieces = selectedPieces(useDesk.getState());
  if (selection.kind === "piece" && pieces.length > 1) {
    const edits = scene.state.pattern.pieces.filter((v) => pieces.includes(v.piece)).map((v): Edit => ({ do: "move-piece", piece: v.piece, at: moved(v.at) }));
    return scene.actions.edit({ do: "batch", edits });
  }
  if (selection.kind === "piece") return scene.actions.edit({ do: "move-piece", piece: view.piece, at: moved(view.at) });
  if (selection.kind !== "corner") return;
  const nodes = selectedNodes(useDesk.getState());
  if (nodes.length > 1) {
    const [zero, one] = [toPieceFrame(view, { x: 0, y: 0 }), toPieceFrame(view, by)];
    return scene.actions.edit({ do: "move-nodes", piece: view.piece, nodes, by: { x: one.x - zero.x, y: one.y - zero.y } });
  }
  const node = nodesOf(view).find((n) => n.node === selection.node);
  if (node) scene.actions.edit({ do: "move-node", piece: view.piece, node: node.node, to: toPieceFrame(view, moved(toTableFrame(view, node.at))) });
}

const arrows = [
  ["left", -1, 0],
  ["right", 1, 0],
  ["up", 0, 1],
  ["down", 0, -1],
] as const;

const movable = (scene: Scene) => {
  const { selection } = useDesk.getState();
  return chosen(scene) !== undefined && (selection?.kind === "piece" || selection?.kind === "corner");
};

const NUDGES: Command[] = arrows.flatMap(([way, x, y]) =>
  [STEP, LONG_STEP].map((mm) => ({
    id: `nudge-${way}-${mm}`,
    name: `Move ${way} by ${mm} mm`,
    help: "The selected corner or piece",
    group: "Selection" as const,
    key: `${mm === LONG_STEP ? "Shift " : ""}Arrow ${way}`,
    sheet: way === "left" ? ([mm === LONG_STEP ? "Shift Arrows" : "Arrows", `Move it by ${mm} mm`] as [string, string]) : (false as const),
    enabled: movable,
    run: (scene: Scene) => nudge(scene, { x: x * mm, y: y * mm }),
    keyOnly: true,
  })),
);

/** What Tab walks through: the pieces, or the lines and corners of the one that was entered. */
function stops(scene: Scene): Selection[] {
  const { selection } = useDesk.getState();
  const pieces: Selection[] = scene.state.pattern.pieces.map((v) => ({ kind: "piece", piece: v.piece }));
  if (selection === null || selection.kind === "piece" || selection.kind === "seam") return pieces;
  const view = chosen(scene);
  if (!view) return pieces;
  const lines = allLines(view).filter((l) => !l.image);
  const nodes = nodesOf(view).map((n) => n.node);
  const parts = lines.flatMap((l): Selection[] => [
    ...(nodes.includes(l.node) ? [{ kind: "corner" as const, piece: view.piece, node: l.node }] : []),
    { kind: "edge", piece: view.piece, line: l.line },
  ]);
  return parts;
}

const same = (a: Selection | null, b: Selection) => JSON.stringify(a) === JSON.stringify(b);

/** Whether there is a next one; at the ends, Tab leaves the table. */
function walk(scene: Scene, by: 1 | -1, go: boolean): boolean {
  const { selection } = useDesk.getState();
  const all = stops(scene);
  const at = all.findIndex((s) => same(selection, s));
  const next = all[at < 0 ? (by > 0 ? 0 : all.length - 1) : at + by];
  if (go && next) desk.select(next);
  return next !== undefined;
}

const onTable = () => document.activeElement?.closest("[data-table-focus]") != null;

/** From a corner or a line to its piece, from a piece to none. */
function up() {
  const { selection } = useDesk.getState();
  desk.select(selection && selection.kind !== "piece" && selection.kind !== "seam" ? { kind: "piece", piece: selection.piece } : null);
}

/** Takes the selected line into a seam. */
function sewSelected(actions: Scene["actions"], more: boolean) {
  const { selection, stage } = useDesk.getState();
  if (selection?.kind !== "edge") return;
  if (stage !== "join") desk.go("join");
  take(actions, runOf(selection.piece, selection.line), more);
}

export const SELECTION: Command[] = [
  { id: "remove", name: "Remove what is selected", help: "Pieces, corners, a line inside, a hole or a seam", group: "Selection", key: "Delete", enabled: () => useDesk.getState().selection !== null, run: removeSelected },
  { id: "remove-too", name: "Remove what is selected", help: "A piece, a corner or a seam", group: "Selection", key: "Backspace", sheet: false, enabled: () => useDesk.getState().selection !== null, run: removeSelected, keyOnly: true },
  { id: "next", name: "Next piece, line or corner", help: "While the table has the focus", group: "Selection", key: "Tab", enabled: (s) => onTable() && walk(s, 1, false), run: (s) => void walk(s, 1, true), keyOnly: true },
  { id: "previous", name: "The one before", help: "While the table has the focus", group: "Selection", key: "Shift Tab", enabled: (s) => onTable() && walk(s, -1, false), run: (s) => void walk(s, -1, true), keyOnly: true },
  {
    id: "enter",
    name: "Into the selected piece",
    help: "Tab then walks its corners and lines",
    group: "Selection",
    key: "Enter",
    enabled: (s) => onTable() && useDesk.getState().selection?.kind === "piece" && chosen(s) !== undefined,
    run: (s) => {
      const line = chosen(s)?.outline[0];
      const view = chosen(s);
      if (line && view) desk.select({ kind: "corner", piece: view.piece, node: line.node });
    },
    keyOnly: true,
  },
  { id: "up", name: "Out of the piece again", help: "Tab then walks the pieces", group: "Selection", key: "Shift Enter", enabled: () => onTable() && useDesk.getState().selection !== null, run: up, keyOnly: true },
  {
    id: "leave",
    name: "Back to the piece, then to none",
    help: "While the table has the focus",
    group: "Selection",
    key: "Escape",
    enabled: () => onTable() && useDesk.getState().selection !== null && !joining.begun() && useDesk.getState().tool === "pick",
    run: up,
    keyOnly: true,
  },
  {
    id: "sew",
    name: "Sew the selected line",
    help: "From here, or to the line that was begun with",
    group: "Join",
    key: "J",
    enabled: () => useDesk.getState().selection?.kind === "edge",
    run: ({ actions }) => sewSelected(actions, false),
  },
  {
    id: "sew-more",
    name: "Sew the selected line, and more",
    help: "Takes it in and waits for further ones; Enter sews",
    group: "Join",
    key: "Shift J",
    enabled: () => useDesk.getState().selection?.kind === "edge",
    run: ({ actions }) => sewSelected(actions, true),
  },
  { id: "sew-other-side", name: "Other side", help: "Further stretches go to the other side of the seam", group: "Join", key: "Q", enabled: joining.begun, run: joining.other },
  {
    id: "turn-seam",
    name: "Turn the seam round",
    help: "The one that is begun, or the selected one",
    group: "Join",
    key: "R",
    enabled: () => joining.begun() || useDesk.getState().selection?.kind === "seam",
    run: ({ actions }) => {
      const { selection } = useDesk.getState();
      if (joining.begun()) joining.turn();
      else if (selection?.kind === "seam") actions.edit({ do: "flip-seam", seam: selection.seam });
    },
  },
  ...NUDGES,
];
