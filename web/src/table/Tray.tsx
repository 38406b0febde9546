import { ChevronUp, Grid3x3, Magnet, Maximize, PaintBucket } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { memo, type ReactNode, useState } from "react";
import type { Command } from "../commands/command";
import { RELATIVES, TOOLS } from "../commands/tools";
import { desk, type Tool, useDesk } from "../desk/store";
import { Tip } from "../ui/Tip";
import { useDraft } from "./draft";

/** The tools of the current stage, each with its key; relatives share a button that opens upwards. */
export const Tray = memo(function Tray() {
  const stage = useDesk((s) => s.stage);
  const offers = TOOLS.filter((c) => c.stages?.includes(stage));
  const shown: Command[][] = [];
  for (const offer of offers) {
    const family = RELATIVES.find((r) => offer.tool && r.includes(offer.tool));
    if (!family) shown.push([offer]);
    else if (family[0] === offer.tool) shown.push(offers.filter((o) => o.tool && family.includes(o.tool)));
  }
  return (
    <div className="absolute bottom-4 left-1/2 flex max-w-[calc(100%-16px)] -translate-x-1/2 gap-1 rounded-xl bg-ink p-1.5 text-card shadow-lg" role="toolbar" aria-label="Tray">
      {shown.map((family) => (family.length > 1 ? <Family key={family[0]?.id} family={family} /> : family.map((c) => <ToolButton key={c.id} command={c} />)))}
    </div>
  );
});

function ToolButton({ command, short = false }: { command: Command; short?: boolean }) {
  const active = useDesk((s) => s.tool === command.tool);
  const { tool: own, name, key, help, icon: Icon } = command;
  return (
    <Tip text={help}>
      <button
        type="button"
        aria-pressed={active}
        aria-keyshortcuts={key}
        data-tool={own}
        onClick={() => own && desk.take(own)}
        aria-label={key ? `${name} ${key}` : name}
        className={`flex h-8 items-center gap-1.5 whitespace-nowrap font-medium ${short ? "rounded-l-lg pr-1 pl-2" : "rounded-lg px-2"} ${active ? "bg-tape text-ink" : "hover:bg-card/10"}`}
      >
        {Icon && <Icon size={15} />} <span className={active ? "" : "hidden @[720px]:inline"}>{name}</span> {key && <span className="figures text-[11px] opacity-75">{key}</span>}
      </button>
    </Tip>
  );
}

/** One of several relatives, with the way to the others. */
function Family({ family }: { family: Command[] }) {
  const [last, setLast] = useState<Tool | undefined>(family[0]?.tool);
  const now = useDesk((s) => s.tool);
  const front = family.find((c) => c.tool === now) ?? family.find((c) => c.tool === last) ?? family[0];
  if (!front) return null;
  const take = (c: Command) => {
    setLast(c.tool);
    if (c.tool) desk.take(c.tool);
  };
  return (
    <div className="flex">
      <ToolButton command={front} short />
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label={`More like ${family[0]?.name}`} data-family={family[0]?.tool} className={`grid h-8 w-5 place-items-center rounded-r-lg ${front.tool === now ? "bg-tape text-ink" : "hover:bg-card/10"}`}>
          <ChevronUp size={13} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content side="top" align="start" sideOffset={10} className="z-40 w-[330px] rounded-lg border border-edge bg-card p-1 text-ink shadow-lg">
            {family.map((c) => (
              <DropdownMenu.Item key={c.id} onSelect={() => take(c)} data-take={c.tool} className="flex cursor-pointer items-center gap-2.5 rounded px-2.5 py-1.5 outline-none data-[highlighted]:bg-tape">
                {c.icon && <c.icon size={16} className="shrink-0" />}
                <span className="flex-1">
                  <span className="font-medium">{c.name}</span>
                  <span className="block text-[11.5px] text-ink-soft leading-tight">{c.help}</span>
                </span>
                {c.key && <kbd className="figures rounded border border-edge bg-sheet px-1.5 text-[11px]">{c.key}</kbd>}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
}

/** How the table is looked at, and what it draws the pointer to. */
export function TableView() {
  const filled = useDesk((s) => s.filled);
  const { free, ruled } = useDraft();
  const stage = useDesk((s) => s.stage);
  return (
    <div className="absolute top-7 right-3 flex gap-1 rounded-lg border border-edge bg-card p-1" role="toolbar" aria-label="View of the table">
      <Round label="Show all pieces" tip="Show all pieces (0)" on={false} onClick={desk.fitAll}>
        <Maximize size={15} />
      </Round>
      <Round label="Fill with fabric" tip={filled ? "Show the pieces as white paper" : "Fill the pieces with their fabric"} on={filled} onClick={() => useDesk.setState({ filled: !filled })}>
        <PaintBucket size={15} />
      </Round>
      {stage === "draft" && (
        <>
          <Round label="Snap" tip={free ? "Nothing snaps now; click to snap again" : "Snaps to corners, edges and guides; hold Alt to be free of it"} on={!free} onClick={() => useDraft.setState({ free: !free })}>
            <Magnet size={15} />
          </Round>
          <Round label="Snap to the ruled paper" tip="Snap to the ruled paper too" on={ruled} onClick={() => useDraft.setState({ ruled: !ruled })}>
            <Grid3x3 size={15} />
          </Round>
        </>
      )}
    </div>
  );
}

function Round({ label, tip, on, onClick, children }: { label: string; tip: string; on: boolean; onClick: () => void; children: ReactNode }) {
  return (
    <Tip text={tip}>
      <button type="button" aria-label={label} aria-pressed={on} onClick={onClick} className={`grid h-7 w-7 place-items-center rounded-md ${on ? "bg-tape" : "hover:bg-paper"}`}>
        {children}
      </button>
    </Tip>
  );
}
