import type { ComponentProps } from "react";

type Kind = "plain" | "main" | "quiet";

const looks: Record<Kind, string> = {
  plain: "border border-line bg-card hover:bg-paper",
  main: "bg-ink text-card hover:bg-ink/90",
  quiet: "hover:bg-ink/5",
};

export function Button({ kind = "plain", className = "", ...rest }: ComponentProps<"button"> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={`inline-flex h-8 items-center justify-center gap-1.5 whitespace-nowrap rounded-md px-3 font-medium transition-colors duration-150 disabled:opacity-40 ${looks[kind]} ${className}`}
      {...rest}
    />
  );
}
