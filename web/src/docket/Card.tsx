import type { ReactNode } from "react";

export function Card({ title, mark, children }: { title: string; mark?: ReactNode; children: ReactNode }) {
  return (
    <section className="rounded-xl border border-edge bg-card p-3.5">
      <h3 className="mb-2 flex items-center gap-2 font-heading font-semibold text-[15px]">
        {mark}
        {title}
      </h3>
      {children}
    </section>
  );
}

/** A measured value. */
export function Row({ name, value, tone = "" }: { name: string; value: ReactNode; tone?: string }) {
  return (
    <div className="flex items-baseline justify-between gap-3 py-1">
      <span className="text-ink-soft">{name}</span>
      <span className={`figures ${tone}`}>{value}</span>
    </div>
  );
}

export function Advice({ children }: { children: ReactNode }) {
  return <div className="my-2 rounded-md border-amber border-l-[3px] bg-amber-pale px-3 py-2">{children}</div>;
}
