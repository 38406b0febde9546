import { useState } from "react";
import { get } from "../api/http";
import type { CostumeState, Hanging, Proposal } from "../api/types";
import type { CostumeActions } from "../api/costume";
import { desk, useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { notify } from "../ui/notices";
import { format } from "../ui/units";
import { Card } from "./Card";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
}

const busy = { item: "Proposals", reason: "could not be made", remedy: "Try again in a moment" };

/** Seams that fit: each is shown before it is taken, and none is taken by itself. */
export function ProposalsCard({ state, actions }: Props) {
  const { selection, unit } = { selection: useDesk((s) => s.selection), unit: useDesk((s) => s.unit) };
  const [found, setFound] = useState<{ all: Proposal[]; chosen: boolean[]; version: number; ofLine: boolean } | null>(null);
  const [waits, setWaits] = useState(false);
  const ask = async (line: { piece: number; line: number } | null) => {
    setWaits(true);
    try {
      const all = await get<Proposal[]>(`/api/costumes/${state.id}/proposals${line ? `?piece=${line.piece}&line=${line.line}` : ""}`);
      setFound({ all, chosen: all.map((p) => p.sure), version: state.version, ofLine: line !== null });
    } catch {
      notify(busy);
    }
    setWaits(false);
  };
  const stale = found !== null && found.version !== state.version;
  const take = (which: Proposal[]) => {
    const edits = which.map((p) => ({ do: "sew" as const, a: p.a, b: p.b }));
    const [only] = edits;
    if (only) actions.edit(edits.length === 1 ? only : { do: "batch", edits });
    setFound(null);
  };
  const count = found?.chosen.filter(Boolean).length ?? 0;
  return (
    <Card title="What fits">
      <div className="flex flex-wrap gap-2">
        <Button data-what-fits disabled={waits} onClick={() => void ask(null)}>
          {waits ? "Looking…" : "Join what fits"}
        </Button>
        {selection?.kind === "edge" && (
          <Button data-partners disabled={waits} onClick={() => void ask({ piece: selection.piece, line: selection.line })}>
            Partners of this edge
          </Button>
        )}
      </div>
      {found && !stale && found.all.length === 0 && <p className="mt-2 text-ink-soft">Nothing fits that is not sewn yet. Pieces that hang on the body are seen best.</p>}
      {found && !stale && found.all.length > 0 && (
        <>
          <ul className="mt-2">
            {found.all.map((p, k) => (
              <li key={`${p.a_name} ${p.b_name}`} className="border-edge border-t py-1.5" data-proposal={p.sure ? "sure" : "likely"}>
                <label className="flex items-start gap-2">
                  {!found.ofLine && <input type="checkbox" className="mt-1" checked={found.chosen[k]} onChange={(e) => setFound({ ...found, chosen: found.chosen.map((c, j) => (j === k ? e.target.checked : c)) })} />}
                  <span className="min-w-0 flex-1">
                    <button type="button" className="block w-full text-left hover:underline" onClick={() => p.a[0] && desk.select({ kind: "edge", piece: p.a[0].piece, line: p.a[0].line })}>
                      {p.a_name} <span className="text-ink-soft">with</span> {p.b_name}
                    </button>
                    <span className="figures block text-[11px] text-ink-soft">
                      {format(p.a_length, unit, false)} and {format(p.b_length, unit)} · {p.reasons.join(", ")}
                    </span>
                  </span>
                  {found.ofLine && <Button onClick={() => take([p])}>Sew</Button>}
                </label>
              </li>
            ))}
          </ul>
          {!found.ofLine && (
            <div className="mt-2 flex gap-2">
              <Button data-take-proposals disabled={count === 0} onClick={() => take(found.all.filter((_, k) => found.chosen[k]))}>
                Sew {count} {count === 1 ? "seam" : "seams"}
              </Button>
              <Button onClick={() => setFound(null)}>Leave it</Button>
            </div>
          )}
        </>
      )}
    </Card>
  );
}

/** A place on the body for every piece: shown before it is taken. */
export function HangingCard({ state, actions }: Props) {
  const [found, setFound] = useState<{ all: Hanging[]; chosen: boolean[] } | null>(null);
  const [waits, setWaits] = useState(false);
  const bare = state.pattern.pieces.filter((p) => !p.placement && !state.costume.pieces.find((d) => d.id === p.piece)?.parked).length;
  const ask = async (all: boolean) => {
    setWaits(true);
    try {
      const list = await get<Hanging[]>(`/api/costumes/${state.id}/hangings?all=${all}`);
      setFound({ all: list, chosen: list.map(() => true) });
    } catch {
      notify(busy);
    }
    setWaits(false);
  };
  const take = () => {
    const edits = (found?.all ?? []).filter((_, k) => found?.chosen[k]).map((h) => ({ do: "place" as const, piece: h.piece, placement: h.placement }));
    if (edits.length > 0) actions.edit({ do: "batch", edits });
    setFound(null);
  };
  return (
    <Card title="On the body">
      {bare > 0 && (
        <p className="mb-2 text-ink-soft">
          {bare} {bare === 1 ? "piece has" : "pieces have"} no place yet. Drag one onto a spot on the stand, or:
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <Button data-hang-all disabled={waits} onClick={() => void ask(bare === 0)}>
          {waits ? "Looking…" : "Hang all by seams"}
        </Button>
      </div>
      {found && (
        <>
          {found.all.length === 0 && <p className="mt-2 text-ink-soft">Every piece hangs already.</p>}
          <ul className="mt-2">
            {found.all.map((h, k) => (
              <li key={h.piece} className="border-edge border-t py-1" data-hanging={h.piece}>
                <label className="flex items-start gap-2">
                  <input type="checkbox" className="mt-1" checked={found.chosen[k]} onChange={(e) => setFound({ ...found, chosen: found.chosen.map((c, j) => (j === k ? e.target.checked : c)) })} />
                  <span>
                    {h.name} <span className="text-ink-soft">at</span> {h.station}
                    <span className="block text-[11px] text-ink-soft">{h.why}</span>
                  </span>
                </label>
              </li>
            ))}
          </ul>
          {found.all.length > 0 && (
            <div className="mt-2 flex gap-2">
              <Button data-take-hangings onClick={take}>
                Hang {found.chosen.filter(Boolean).length}
              </Button>
              <Button onClick={() => setFound(null)}>Leave it</Button>
            </div>
          )}
        </>
      )}
    </Card>
  );
}
