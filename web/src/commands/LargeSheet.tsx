import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { type SheetName, useSheets } from "./sheets";

/** A sheet that covers most of the desk, for work beside the costume; its contents are made when it is opened. */
export function LargeSheet({ sheet, title, icon, children }: { sheet: SheetName; title: string; icon: ReactNode; children: () => ReactNode }) {
  const open = useSheets((s) => s.open === sheet);
  return (
    <Dialog.Root open={open} onOpenChange={(on) => useSheets.setState({ open: on ? sheet : null })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-1/2 left-1/2 z-50 flex h-[min(88vh,720px)] w-[min(94vw,1160px)] -translate-x-1/2 -translate-y-1/2 flex-col rounded-xl border border-edge bg-card p-5 shadow-xl outline-none" data-large-sheet={sheet}>
          <Dialog.Title className="mb-3 flex items-center gap-2 font-heading font-semibold text-[17px]">
            {icon} {title}
          </Dialog.Title>
          {open && children()}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
