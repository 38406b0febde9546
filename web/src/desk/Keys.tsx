import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { isTyping } from "../ui/typing";

const SHEET: [string, [string, string][]][] = [
  [
    "Everywhere",
    [
      ["Ctrl Z", "Undo"],
      ["Ctrl Shift Z", "Redo"],
      ["1 … 6", "The stages, Body to Deliver"],
      ["Q", "Pick"],
      ["0", "Show all pieces"],
      ["Escape", "Forget what was begun"],
      ["Delete", "Remove what is selected"],
      ["?", "This sheet"],
    ],
  ],
  [
    "Draft",
    [
      ["O", "Outline"],
      ["W", "Band"],
      ["K", "Corner on an edge"],
      ["Y", "Curve or straighten an edge"],
      ["Enter", "Close the outline"],
    ],
  ],
  [
    "Join",
    [
      ["S", "Seam"],
      ["F", "Flip"],
      ["U", "Unpick"],
    ],
  ],
  [
    "Pointer",
    [
      ["Wheel", "Zoom to the pointer"],
      ["Drag the paper", "Move it"],
      ["Drag the stand", "Walk around it"],
      ["Right click", "What can be done here"],
    ],
  ],
];

/** The sheet of shortcuts, shown on `?`. */
export function Keys() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key === "?" && (open || !isTyping(e))) setOpen((o) => !o);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [open]);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="rounded px-1 hover:text-ink hover:underline">
        Keys <span className="figures">?</span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-1/2 left-1/2 z-50 w-[620px] -translate-x-1/2 -translate-y-1/2 rounded-xl border border-edge bg-card p-6 shadow-xl outline-none" data-keys>
          <Dialog.Title className="mb-4 font-heading font-semibold text-[17px]">Keys and pointer</Dialog.Title>
          <div className="grid grid-cols-2 gap-x-8 gap-y-5">
            {SHEET.map(([title, rows]) => (
              <section key={title}>
                <h3 className="mb-1 font-semibold">{title}</h3>
                {rows.map(([key, does]) => (
                  <div key={key} className="flex items-baseline justify-between gap-3 border-edge/60 border-b py-1">
                    <span className="text-ink-soft">{does}</span>
                    <kbd className="figures rounded border border-edge bg-sheet px-1.5">{key}</kbd>
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
