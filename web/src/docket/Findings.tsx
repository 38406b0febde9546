import { TriangleAlert } from "lucide-react";
import type { Finding } from "../api/types";

/** All that is the matter with the drape, in the words of the tape and the footer. */
export function Findings({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="mb-2 rounded-md bg-amber/10 px-3 py-2" data-findings={findings.length}>
      {findings.map((f) => (
        <li key={f.kind} className={`flex gap-2 first-letter:uppercase ${f.is_fault ? "text-brick" : "text-ink-soft"}`} data-finding={f.kind}>
          <TriangleAlert size={14} className="mt-0.5 shrink-0" />
          <span className="first-letter:uppercase">{f.words}</span>
        </li>
      ))}
    </ul>
  );
}
