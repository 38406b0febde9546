import { ContextMenu } from "radix-ui";
import { type MouseEvent, type ReactNode, useState } from "react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { beside, seamAt } from "./find";
import { joining, runOf } from "./joining";
import { allLines, shownPattern } from "./shown";
import { removeSelected } from "../commands/selection";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
  children: ReactNode;
}

type Item = { name: string; run: () => void; stops?: boolean };

/** What can be done with the thing under the pointer, on a right click. */
export function TableMenu({ state, actions, children }: Props) {
  const [items, setItems] = useState<Item[]>([]);

  const look = (e: MouseEvent) => {
    const element = (e.target as Element).closest<SVGElement>("[data-hit]");
    const piece = shownPattern(state, null).pieces.find((p) => p.id === Number(element?.closest<SVGElement>("[data-piece]")?.dataset.piece));
    const seam = state.costume.seams.find((s) => s.id === Number(element?.closest<SVGElement>("[data-seam]")?.dataset.seam));
    if (element?.dataset.hit === "tag" && seam) setItems(seamItems(seam.id));
    else if (piece && element?.dataset.hit === "corner") setItems(cornerItems(piece.id, Number(element.dataset.corner), piece.view.outline.length > 3));
    else if (piece && element?.dataset.hit === "edge") setItems(edgeItems(piece.id, Number(element.dataset.edge)));
    else if (piece) setItems(pieceItems(piece.id));
    else setItems(tableItems());
  };

  const seamItems = (seam: number): Item[] => {
    desk.select({ kind: "seam", seam });
    return [
      { name: "Flip the seam", run: () => actions.edit({ do: "flip-seam", seam }) },
      { name: "Unpick", run: () => removeSelected({ actions }) },
    ];
  };
  const cornerItems = (piece: number, corner: number, more: boolean): Item[] => {
    desk.select({ kind: "corner", piece, node: corner });
    return [{ name: "Remove corner", run: () => removeSelected({ actions }), stops: !more }];
  };
  const edgeItems = (piece: number, edge: number): Item[] => {
    desk.select({ kind: "edge", piece, line: edge });
    const pattern = shownPattern(state, null);
    const view = pattern.pieces.find((p) => p.id === piece)?.view;
    const curved = view && allLines(view).find((l) => l.line === edge)?.handles;
    const seam = seamAt(pattern.seams, piece, edge);
    const sewn: Item[] = seam
      ? [{ name: `Unpick seam ${seam.tag}`, run: () => actions.edit({ do: "unpick", seam: seam.seam }) }]
      : [{ name: "Join to…", run: () => (useDesk.setState({ stage: "join", tool: "seam", selection: null }), window.setTimeout(() => joining.begin(runOf(piece, edge)))) }];
    return [
      { name: curved ? "Make straight" : "Make a curve", run: () => actions.edit({ do: curved ? "straighten-line" : "curve-line", piece, line: edge }) },
      { name: "Corner in the middle", run: () => actions.edit({ do: "split-line", piece, line: edge, fraction: 0.5, by_length: true }) },
      ...sewn,
    ];
  };
  const pieceItems = (id: number): Item[] => {
    desk.select({ kind: "piece", piece: id });
    const piece = shownPattern(state, null).pieces.find((p) => p.id === id);
    if (!piece) return [];
    return [
      { name: "Copy", run: () => actions.edit({ do: "copy-piece", piece: id, at: beside(piece) }) },
      { name: piece.doc.parked ? "Take out of parking" : "Park", run: () => actions.edit({ do: "park", piece: id, parked: !piece.doc.parked }) },
      { name: "Remove", run: () => removeSelected({ actions }) },
    ];
  };
  const tableItems = (): Item[] => [
    { name: "Draw an outline", run: () => useDesk.setState({ stage: "draft", tool: "outline" }) },
    { name: "Draw a band", run: () => useDesk.setState({ stage: "draft", tool: "band" }) },
    { name: "Show all pieces", run: desk.fitAll },
  ];

  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild onContextMenu={look}>
        {children}
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-40 min-w-[170px] rounded-lg border border-edge bg-card p-1 shadow-lg" data-menu>
          {items.map((item) => (
            <ContextMenu.Item
              key={item.name}
              disabled={item.stops}
              onSelect={item.run}
              className="cursor-pointer rounded px-3 py-1.5 outline-none data-[disabled]:cursor-default data-[highlighted]:bg-tape data-[disabled]:opacity-40"
            >
              {item.name}
            </ContextMenu.Item>
          ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
