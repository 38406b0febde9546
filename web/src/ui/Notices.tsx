import { X } from "lucide-react";
import { dismiss, useNotices } from "./notices";

/** Messages below the header, clear of the trays. */
export function Notices() {
  const list = useNotices((s) => s.list);
  return (
    <div className="fixed top-[104px] left-1/2 z-50 flex w-[440px] -translate-x-1/2 flex-col gap-2" aria-live="polite">
      {list.map(({ id, refusal, action, good }) => (
        <div
          key={id}
          data-notice
          role={good ? "status" : "alert"}
          className={`flex items-start gap-3 rounded-lg border bg-card px-4 py-3 shadow-lg ${good ? "border-moss" : "border-brick"}`}
        >
          <div className="flex-1">
            <strong className="font-semibold">{refusal.item}</strong> {refusal.reason}
            {refusal.remedy && <div className="text-ink-soft">{refusal.remedy.replace(/\.?$/, ".")}</div>}
          </div>
          {action && (
            <button
              type="button"
              className="rounded border border-edge px-2 py-1 font-medium hover:bg-paper"
              onClick={() => {
                action.run();
                dismiss(id);
              }}
            >
              {action.name}
            </button>
          )}
          <button type="button" aria-label="Close message" onClick={() => dismiss(id)}>
            <X size={15} />
          </button>
        </div>
      ))}
    </div>
  );
}
