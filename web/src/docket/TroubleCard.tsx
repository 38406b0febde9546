import { TriangleAlert } from "lucide-react";
import type { CostumeState, IssueShown } from "../api/types";
import type { DrapeSocket } from "../stand/socket";
import { Button } from "../ui/Button";

/** What is the matter with the drape, since when, and the ways to remedy it. */
export function TroubleCard({ trouble, state, socket }: { trouble: IssueShown; state: CostumeState; socket: DrapeSocket }) {
  const { piece } = trouble;
  const name = state.costume.pieces.find((p) => p.id === piece)?.name;
  return (
    <div className="mb-2 rounded-md bg-amber/10 px-3 py-2" data-trouble>
      <p className="flex gap-2">
        <TriangleAlert size={16} className="mt-0.5 shrink-0 text-amber" />
        <span>
          <strong className="font-semibold">{trouble.item}</strong> {trouble.reason}
          {trouble.since !== null && <span className="text-ink-soft">, since {trouble.since.toFixed(1)} s</span>}.
        </span>
      </p>
      <p className="mt-1 pl-6 text-ink-soft first-letter:uppercase">{trouble.remedy}.</p>
      <div className="mt-2 flex flex-wrap gap-2">
        {piece !== null && name && (
          <Button
            data-mend="rehang"
            onClick={() => {
              socket.send({ do: "rehang", piece });
              socket.send({ do: "drape" });
            }}
          >
            Hang {name} again
          </Button>
        )}
        {trouble.can_go_back && (
          <Button data-mend="go-back" onClick={() => socket.send({ do: "go-back" })}>
            Back to the last good state
          </Button>
        )}
      </div>
    </div>
  );
}
