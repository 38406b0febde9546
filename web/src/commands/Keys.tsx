import { Dialog } from "radix-ui";
import type { Group } from "./command";
import { COMMANDS } from "./registry";
import { useSheets } from "./sheets";

const GROUPS: Group[] = ["Everywhere", "Draft", "Join", "Stand", "Selection"];
const POINTER: [string, string][] = [
  ["Wheel", "Zoom to the pointer"],
  ["Drag the paper", "Move it"],
  ["Drag the stand", "Walk around it"],
  ["Right click", "What can be done here"],
  ["Escape", "Forget what was begun"],
  ["Enter", "Close the outline"],
];

const rowsOf = (group: Group) => COMMANDS.flatMap((c) => (c.group === group && c.key && c.sheet !== false ? [c.sheet ?? ([c.key, c.name] as const)] : []));

/** The sheet of shortcuts, made from all commands that have one. */
export function Keys() {
  const open = useSheets((s) => s.open === "keys");
  const sheet = [...GROUPS.map((g) => [g, rowsOf(g)] as const), ["Pointer and drawing", POINTER] as const];
  return (
    <Dialog.Root open={open} onOpenChange={(on) => useSheets.setState({ open: on ? "keys" : null })}>
      <Dialog.Trigger className="rounded px-1 hover:text-ink hover:underline">
        Keys <span className="figures">?</span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} tabIndex={0} className="fixed top-1/2 left-1/2 z-50 max-h-[90vh] w-[720px] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-xl border border-edge bg-card p-6 shadow-xl outline-none" data-keys>
          <Dialog.Title className="mb-4 font-heading font-semibold text-[17px]">Keys and pointer</Dialog.Title>
          <div className="columns-2 gap-x-8">
            {sheet.map(([title, rows]) => (
              <section key={title} className="mb-4 break-inside-avoid">
                <h3 className="mb-1 font-semibold">{title}</h3>
                {rows.map(([key, does]) => (
                  <div key={key} className="flex items-baseline justify-between gap-3 border-edge/60 border-b py-0.5">
                    <span className="text-ink-soft">{does}</span>
                    <kbd className="figures whitespace-nowrap rounded border border-edge bg-sheet px-1.5">{key}</kbd>
                  </div>
                ))}
              </section>
            ))}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
