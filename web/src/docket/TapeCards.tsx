import { Ruler, Trash2 } from "lucide-react";
import { useBody, useBodyOf } from "../body/store";
import { useDesk } from "../desk/store";
import { Button } from "../ui/Button";
import { format } from "../ui/units";
import { Card, Row } from "./Card";
import type { DocketProps } from "./props";

/** Standard girths and lengths of any body, and tapes laid over it by hand. */
export function TapeCards({ state, actions }: DocketProps) {
  const unit = useDesk((s) => s.unit);
  const { view, laying, tape } = useBodyOf("view", "laying", "tape");
  const tapes = state.costume.tapes ?? [];
  const length = (id: number) => view?.head.tapes.find((t) => t.id === id)?.mm;
  const way = "flex items-center gap-2 py-0.5";
  return (
    <>
      <Card title="Lay a tape">
        <p className="mb-2 text-ink-soft">{laying ? "Click points on the body. Enter keeps the tape, Escape forgets it." : "Over two or more points of the body, in any pose."}</p>
        <label className={way}>
          <input type="checkbox" data-follows checked={tape.follows} onChange={(e) => useBody.setState({ tape: { ...tape, follows: e.target.checked } })} /> Lies on the skin
        </label>
        <label className={way}>
          <input type="checkbox" data-closed checked={tape.closed} onChange={(e) => useBody.setState({ tape: { ...tape, closed: e.target.checked } })} /> Goes all around
        </label>
        <Button className="mt-2 w-full" data-start-tape disabled={laying !== null} onClick={() => useBody.setState({ laying: [] })}>
          <Ruler size={14} /> {laying ? "Click on the body…" : "Lay a tape"}
        </Button>
      </Card>
      {tapes.length > 0 && (
        <Card title="Tapes">
          {tapes.map((t) => (
            <div key={t.id} className="flex items-center gap-2 py-0.5" data-tape={t.id}>
              <input
                aria-label="Name of the tape"
                defaultValue={t.name}
                maxLength={80}
                className="h-7 min-w-0 flex-1 rounded-md border border-transparent bg-transparent px-1 hover:border-edge"
                onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                onBlur={(e) => {
                  const name = e.target.value.trim();
                  if (name && name !== t.name) actions.edit({ do: "change-tape", tape: { ...t, name } });
                }}
              />
              <span className="figures" data-length={length(t.id)}>
                {length(t.id) === undefined ? "…" : format(length(t.id) ?? 0, unit)}
              </span>
              <button type="button" aria-label={`Take ${t.name} off`} className="rounded p-1 text-ink-soft hover:bg-paper" onClick={() => actions.edit({ do: "take-tape-off", tape: t.id })}>
                <Trash2 size={14} />
              </button>
            </div>
          ))}
        </Card>
      )}
      <Card title="Standard measures">
        {view?.head.taken.map((t) => (
          <Row key={t.key} name={t.name.replace(/^./, (c) => c.toUpperCase())} value={format(t.measured, unit)} />
        ))}
        {view?.head.taken.length === 0 && <p className="text-ink-soft">They need the landmarks of the figure.</p>}
      </Card>
    </>
  );
}
