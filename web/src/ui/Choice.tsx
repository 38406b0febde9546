import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";
import { useRef } from "react";

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  /** Shown while the value is none of the options. */
  none?: string;
  onChange: (value: T) => void;
}

/** A closed choice is changed by opening it, never by a letter that was meant as a shortcut. */
const keepLetters = (e: React.KeyboardEvent) => {
  if (e.key.length === 1 && e.key !== " ") e.preventDefault();
};

/** One of several named values. */
export function Choice<T extends string>({ label, value, options, none, onChange }: Props<T>) {
  // who chose with the pointer goes on with it: the keys are shortcuts again; the keyboard stays where it is
  const byPointer = useRef(false);
  return (
    <div className="flex items-center justify-between gap-2 py-0.5 text-ink-soft">
      {label}
      <Select.Root value={value} onValueChange={(v) => onChange(v as T)}>
        <Select.Trigger aria-label={label} onKeyDown={keepLetters} className="flex h-8 min-w-0 max-w-[168px] items-center gap-1.5 rounded-md border border-line bg-white pr-2 pl-2.5 text-ink hover:border-ink">
          <span className="truncate">
            <Select.Value placeholder={none} />
          </span>
          <ChevronDown size={13} className="shrink-0 text-ink-soft" />
        </Select.Trigger>
        <Select.Portal>
          <Select.Content onPointerUp={() => (byPointer.current = true)} onKeyDown={() => (byPointer.current = false)} onCloseAutoFocus={(e) => byPointer.current && e.preventDefault()} position="popper" align="end" sideOffset={4} className="z-50 max-h-[320px] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-lg border border-edge bg-card p-1 shadow-lg">
            <Select.Viewport>
              {options.map(([key, name]) => (
                <Select.Item key={key} value={key} className="flex cursor-pointer items-center gap-2 rounded py-1.5 pr-3 pl-2 outline-none data-[highlighted]:bg-tape">
                  <span className="w-3.5">
                    <Select.ItemIndicator>
                      <Check size={13} />
                    </Select.ItemIndicator>
                  </span>
                  <Select.ItemText>{name}</Select.ItemText>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
    </div>
  );
}
