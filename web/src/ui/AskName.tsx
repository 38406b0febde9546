import { Dialog } from "radix-ui";
import { useState } from "react";
import { Button } from "./Button";

interface Props {
  title: string;
  label: string;
  start?: string;
  confirm: string;
  onDone: (name: string) => void;
  onClose: () => void;
}

/** A dialog that asks for one name. */
export function AskName({ title, label, start = "", confirm, onDone, onClose }: Props) {
  const [name, setName] = useState(start);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-1/3 left-1/2 z-50 w-[360px] -translate-x-1/2 rounded-xl border border-edge bg-card p-5 shadow-xl outline-none">
          <Dialog.Title className="mb-3 font-heading text-[17px] font-semibold">{title}</Dialog.Title>
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (name.trim()) {
                onDone(name.trim());
                onClose();
              }
            }}
          >
            <label className="block text-ink-soft">
              {label}
              <input
                name="name"
                autoFocus
                maxLength={80}
                value={name}
                onChange={(e) => setName(e.target.value)}
                onFocus={(e) => e.target.select()}
                className="mt-1 block h-9 w-full rounded-md border border-line bg-white px-2 text-ink"
              />
            </label>
            <div className="mt-4 flex justify-end gap-2">
              <Button onClick={onClose}>Cancel</Button>
              <Button kind="main" type="submit" disabled={!name.trim()}>
                {confirm}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
