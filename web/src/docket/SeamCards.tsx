import type { CostumeState, Run, Seam } from "../api/types";
import { desk, useDeskOf } from "../desk/store";
import { Button } from "../ui/Button";
import { format, formatSigned } from "../ui/units";
import { Card, Row } from "./Card";
import { Mends } from "./Findings";
import type { DocketProps } from "./props";
import { SeamMakeCard } from "./SeamMakeCard";
import { WalkCard } from "./WalkCard";

export function sideName(state: CostumeState, runs: Run[]): string {
  const [run] = runs;
  const piece = state.costume.pieces.find((p) => p.id === run?.piece);
  const view = state.pattern.pieces.find((v) => v.piece === run?.piece);
  const lines = runs.map((r) => view?.outline.findIndex((l) => l.line === r.line) ?? -1);
  const words = lines.every((k) => k >= 0) ? `edge ${lines.map((k) => k + 1).join(" + ")}` : "inside";
  return `${piece?.name ?? "?"} · ${words}`;
}

const KINDS = { flat: "flat", eased: "eased", gathered: "gathered", stretched: "stretched" } as const;

function Tag({ tag, chosen = false }: { tag: string; chosen?: boolean }) {
  return <span className={`grid h-6 w-6 shrink-0 place-items-center rounded-full border font-heading font-semibold text-[12px] ${chosen ? "border-thread bg-thread text-card" : "border-ink"}`}>{tag}</span>;
}

const measureOf = (state: CostumeState, seam: Seam) => state.pattern.seams.find((m) => m.seam === seam.id && !m.image);

/** The selected seam: both lengths, what it does with their difference, how it is made. */
export function SeamCards({ state, actions }: DocketProps) {
  const { selection, unit, stage } = useDeskOf("selection", "unit", "stage");
  const chosen = selection?.kind === "seam" ? state.costume.seams.find((s) => s.id === selection.seam) : undefined;
  const m = chosen && measureOf(state, chosen);
  return (
    <>
      {chosen && m && (
        <Card title={`Seam ${chosen.tag}`} mark={<Tag tag={chosen.tag} chosen />}>
          <Row name={sideName(state, chosen.a)} value={format(m.a, unit)} />
          <Row name={sideName(state, chosen.b)} value={format(m.b, unit)} />
          <Row name="Difference" value={`${formatSigned(m.b - m.a, unit)} · ${((100 * Math.abs(m.b - m.a)) / Math.min(m.a, m.b)).toFixed(1)} %`} tone={m.good ? "text-moss" : "text-amber font-semibold"} />
          <Row name="Kind" value={KINDS[m.kind]} />
          <Row name="Its cloth takes" value={`${(100 * m.ease_limit).toFixed(1)} % eased${m.stretch_limit > 0 ? `, ${(100 * m.stretch_limit).toFixed(0)} % stretched` : ""}`} />
          <Mends state={state} actions={actions} seam={chosen.id} />
          <div className="mt-2 flex flex-wrap gap-2">
            <Button data-flip onClick={() => actions.edit({ do: "flip-seam", seam: chosen.id })}>
              Turn round <span className="figures text-[11px] opacity-75">R</span>
            </Button>
            <Button
              data-unpick
              onClick={() => {
                actions.edit({ do: "unpick", seam: chosen.id });
                desk.select(null);
              }}
            >
              Unpick
            </Button>
            <Button onClick={() => (actions.edit({ do: "merge-pieces", seam: chosen.id }), desk.select(null))}>Make one piece</Button>
          </div>
          <label className="mt-1 flex items-center gap-2">
            <input type="checkbox" checked={chosen.ease === "between-notches"} onChange={(e) => actions.edit({ do: "ease-seam", seam: chosen.id, ease: e.target.checked ? "between-notches" : "even" })} /> Eased from notch to notch
          </label>
        </Card>
      )}
      {chosen && m && stage === "join" && <WalkCard costume={state.id} version={state.version} seam={m} />}
      {chosen && m && <SeamMakeCard seam={chosen} view={m} actions={actions} />}
    </>
  );
}

/** The list of all seams. */
export function SeamList({ state }: Pick<DocketProps, "state">) {
  const { selection, unit } = useDeskOf("selection", "unit");
  const chosen = selection?.kind === "seam" ? state.costume.seams.find((s) => s.id === selection.seam) : undefined;
  return (
      <Card title="All seams">
        {state.costume.seams.length === 0 && <p className="text-ink-soft">Nothing is joined yet. Click an edge on the table, then its partner.</p>}
        {state.costume.seams.map((seam) => {
          const own = measureOf(state, seam);
          return (
            <button
              key={seam.id}
              type="button"
              data-seam-row={seam.tag}
              onClick={() => desk.select({ kind: "seam", seam: seam.id })}
              className={`-mx-1.5 flex w-[calc(100%+12px)] items-center gap-2.5 rounded-md px-1.5 py-1.5 text-left hover:bg-paper ${chosen?.id === seam.id ? "bg-paper" : ""}`}
            >
              <Tag tag={seam.tag} chosen={chosen?.id === seam.id} />
              <span className="min-w-0 flex-1 truncate">{sideName(state, seam.a)}</span>
              <span className={`figures ${own?.good ? "" : "text-amber"}`}>{own && (own.good ? format(own.a, unit, false) : formatSigned(own.b - own.a, unit))}</span>
            </button>
          );
        })}
      </Card>
  );
}
