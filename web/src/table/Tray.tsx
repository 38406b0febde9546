import { ArrowLeftRight, Maximize, MousePointer2, PaintBucket, PenLine, type Plus, RectangleHorizontal, Scissors, Spline, SquarePen, Waypoints } from "lucide-react";
import { useEffect } from "react";
import type { CostumeActions } from "../api/costume";
import { desk, type Tool, useDesk } from "../desk/store";
import { useBody } from "../body/store";
import { Tip } from "../ui/Tip";
import { isTyping } from "../ui/typing";

interface ToolOffer {
  tool: Tool;
  name: string;
  key: string;
  says: string;
  icon: typeof Plus;
}

const PICK: ToolOffer = { tool: "pick", name: "Pick", key: "Q", says: "Select and drag pieces, corners and handles", icon: MousePointer2 };
const DRAFT: ToolOffer[] = [
  PICK,
  { tool: "outline", name: "Outline", key: "O", says: "Draw a piece corner by corner", icon: SquarePen },
  { tool: "band", name: "Band", key: "W", says: "Draw a rectangle", icon: RectangleHorizontal },
  { tool: "corner", name: "Corner", key: "K", says: "Click an edge to add a corner", icon: Waypoints },
  { tool: "bow", name: "Bow", key: "Y", says: "Click an edge to curve it, or to make it straight again", icon: Spline },
];
const JOIN: ToolOffer[] = [
  PICK,
  { tool: "seam", name: "Seam", key: "S", says: "Click an edge, then its partner", icon: PenLine },
  { tool: "flip", name: "Flip", key: "F", says: "Click a seam to sew it the other way round", icon: ArrowLeftRight },
  { tool: "unpick", name: "Unpick", key: "U", says: "Click a seam to take it out", icon: Scissors },
];


/** The tools of the current stage, each with its key. */
export function Tray({ actions }: { actions: CostumeActions }) {
  const { stage, tool, filled } = useDesk();
  const offers = stage === "draft" ? DRAFT : stage === "join" ? JOIN : [PICK];

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (isTyping(e) || e.ctrlKey || e.metaKey || e.altKey) return;
      const found = offers.find((o) => o.key.toLowerCase() === e.key.toLowerCase());
      if (found) desk.take(found.tool);
      if (e.key === "0") desk.fitAll();
      // while a tape is laid, these take back its last point
      if ((e.key === "Delete" || e.key === "Backspace") && useBody.getState().laying === null) removeSelected(actions);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  return (
    <div className="absolute bottom-4 left-1/2 flex max-w-[calc(100%-16px)] -translate-x-1/2 gap-1 rounded-xl bg-ink p-1.5 text-card shadow-lg" role="toolbar" aria-label="Tray">
      {offers.map(({ tool: own, name, key, says, icon: Icon }) => (
        <Tip key={own} text={says}>
          <button
            type="button"
            aria-pressed={tool === own}
            aria-label={name}
            data-tool={own}
            onClick={() => desk.take(own)}
            className={`flex h-8 items-center gap-1.5 rounded-lg px-2.5 font-medium ${tool === own ? "bg-tape text-ink" : "hover:bg-card/10"}`}
          >
            <Icon size={15} /> {name} <span className="figures text-[11px] opacity-60">{key}</span>
          </button>
        </Tip>
      ))}
      <Tip text="Show all pieces (0)">
        <button type="button" aria-label="Show all pieces" onClick={desk.fitAll} className="flex h-8 items-center rounded-lg px-2 hover:bg-card/10">
          <Maximize size={15} />
        </button>
      </Tip>
      <Tip text={filled ? "Show the pieces as white paper" : "Fill the pieces with their fabric"}>
        <button
          type="button"
          aria-label="Fill with fabric"
          aria-pressed={filled}
          onClick={() => useDesk.setState({ filled: !filled })}
          className={`flex h-8 items-center rounded-lg px-2 ${filled ? "bg-tape text-ink" : "hover:bg-card/10"}`}
        >
          <PaintBucket size={15} />
        </button>
      </Tip>
    </div>
  );
}

/** Takes out what is selected. */
export function removeSelected(actions: CostumeActions) {
  const { selection } = useDesk.getState();
  if (selection?.kind === "corner") actions.edit({ do: "remove-node", piece: selection.piece, node: selection.node });
  if (selection?.kind === "piece") actions.edit({ do: "remove-piece", piece: selection.piece });
  if (selection?.kind === "seam") actions.edit({ do: "unpick", seam: selection.seam });
  desk.select(null);
}
