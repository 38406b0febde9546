import { Command as List } from "cmdk";
import { Dialog } from "radix-ui";
import type { Scene } from "./command";
import { COMMANDS } from "./registry";
import { useSheets } from "./sheets";

/** Finds any command by its name or by what it does. */
export function Search({ scene }: { scene: Scene }) {
  const open = useSheets((s) => s.open === "search");
  const close = () => useSheets.setState({ open: null });
  return (
    <Dialog.Root open={open} onOpenChange={(on) => !on && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[14%] left-1/2 z-50 w-[520px] -translate-x-1/2 overflow-hidden rounded-xl border border-edge bg-card shadow-xl outline-none" data-search>
          <Dialog.Title className="sr-only">Find a command</Dialog.Title>
          <List label="Find a command" loop>
            <List.Input placeholder="Find a command by its name" className="w-full border-edge border-b bg-card px-4 py-3 text-[15px] outline-none" />
            <List.List className="max-h-[380px] overflow-auto p-1.5">
              <List.Empty className="px-3 py-4 text-ink-soft">No command has this name.</List.Empty>
              {COMMANDS.filter((c) => !c.keyOnly).map((c) => (
                <List.Item
                  key={c.id}
                  value={`${c.name} ${c.help}`}
                  disabled={!(c.enabled?.(scene) ?? true)}
                  onSelect={() => {
                    close();
                    c.run(scene);
                  }}
                  data-command={c.id}
                  className="flex cursor-pointer items-baseline gap-3 rounded-md px-3 py-1.5 data-[disabled=true]:cursor-default data-[selected=true]:bg-tape data-[disabled=true]:opacity-45"
                >
                  <span className="font-medium">{c.name}</span>
                  <span className="flex-1 truncate text-[12px] text-ink-soft">{c.help}</span>
                  {c.key && <kbd className="figures rounded border border-edge bg-sheet px-1.5 text-[11px]">{c.key}</kbd>}
                </List.Item>
              ))}
            </List.List>
          </List>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
