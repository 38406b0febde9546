import { memo } from "react";
import { Maximize, PaintBucket } from "lucide-react";
import { TOOLS } from "../commands/tools";
import { desk, useDesk } from "../desk/store";
import { Tip } from "../ui/Tip";

/** The tools of the current stage, each with its key. */
export const Tray = memo(function Tray() {
  const stage = useDesk((s) => s.stage);
  const tool = useDesk((s) => s.tool);
  const filled = useDesk((s) => s.filled);
  const offers = TOOLS.filter((c) => c.stages?.includes(stage));

  return (
    <div className="absolute bottom-4 left-1/2 flex max-w-[calc(100%-16px)] -translate-x-1/2 gap-1 rounded-xl bg-ink p-1.5 text-card shadow-lg" role="toolbar" aria-label="Tray">
      {offers.map(({ tool: own, name, key, help, icon: Icon }) => (
        <Tip key={own} text={help}>
          <button
            type="button"
            aria-pressed={tool === own}
            aria-keyshortcuts={key}
            data-tool={own}
            onClick={() => own && desk.take(own)}
            className={`flex h-8 items-center gap-1.5 rounded-lg px-2.5 font-medium ${tool === own ? "bg-tape text-ink" : "hover:bg-card/10"}`}
          >
            {Icon && <Icon size={15} />} {name} <span className="figures text-[11px] opacity-60">{key}</span>
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
});
