import { useQuery } from "@tanstack/react-query";
import { get } from "../api/http";
import type { FittingRow } from "../api/types";
import { ACTIVITY, isDraped, isRunning } from "../desk/standing";
import { useDrapeOf } from "../stand/socket";
import { Slider } from "../ui/Slider";
import { Findings } from "./Findings";
import { AirCard } from "./AirCard";
import { Card, Row } from "./Card";
import { Faults, MeshChoice } from "./CostumeCards";
import type { DocketProps } from "./props";
import { FabricCard } from "./FabricCard";
import { PiecesCard } from "./PiecesCard";
import { TroubleCard } from "./TroubleCard";

/** The running drape in figures, and the kept fittings. */
export function DrapeCards({ state, actions, socket }: DocketProps) {
  const { status, kept } = useDrapeOf("status", "kept");
  const fittings = useQuery({ queryKey: ["fittings", state.id, kept], queryFn: () => get<FittingRow[]>(`/api/costumes/${state.id}/fittings`), placeholderData: (old) => old });
  return (
    <>
      <Card title="Drape">
        {isDraped(status) && !isRunning(status) && <Findings findings={status?.findings ?? []} />}
        {status?.trouble && <TroubleCard trouble={status.trouble} state={state} socket={socket} />}
        {status && (
          <>
            <Row name="State" value={ACTIVITY[status.activity]} />
            <Row name="Time in the cloth" value={`${status.time.toFixed(2)} s`} />
            <Row name="Fastest point" value={`${status.fastest.toFixed(1)} mm/s`} />
            <Row name="Open seam points" value={status.open_pairs} />
            <Row name="Largest stretch" value={`${(100 * status.stretch).toFixed(1)} %`} />
            {status.carried !== null && <Row name="Carried over within" value={`${status.carried.toFixed(1)} mm`} />}
            <Row name="Cloth through cloth" value={status.crossings} tone={status.crossings > 0 ? "text-brick" : ""} />
          </>
        )}
        {status && status.past[0] > 1 && !isRunning(status) && (
          <div className="py-1" data-past={status.past[0]} data-back={status.past[1]}>
            <div className="mb-1.5 flex justify-between text-ink-soft">
              <span>Wind back</span>
              <span className="figures">{(status.past[1] / 4).toFixed(2)} s</span>
            </div>
            <Slider label="Wind back" value={status.past[0] - 1 - status.past[1]} low={0} high={status.past[0] - 1} step={1} onMove={() => undefined} onDone={(v) => socket.send({ do: "wind-back", by: status.past[0] - 1 - v })} />
          </div>
        )}
        <MeshChoice state={state} actions={actions} />
        {status && <Row name="Triangles" value={status.triangles} />}
      </Card>
      <Faults state={state} actions={actions} />
      <PiecesCard state={state} actions={actions} socket={socket} />
      <AirCard socket={socket} />
      <Card title="Fittings">
        {(fittings.data?.length ?? 0) === 0 && <p className="text-ink-soft">None kept yet. Drape, then keep it as a fitting.</p>}
        {fittings.data?.map((f) => (
          <button key={f.id} type="button" data-fitting={f.id} onClick={() => socket.send({ do: "open", fitting: f.id })} className="-mx-1.5 flex w-[calc(100%+12px)] items-center gap-3 rounded-md p-1.5 text-left hover:bg-paper" title="Open this fitting on the stand">
            <img src={`/api/fittings/${f.id}/picture`} alt="" className="h-14 w-[42px] rounded border border-edge object-cover" />
            <span className="min-w-0 flex-1">
              <span className="block truncate font-medium">{f.name}</span>
              <span className="block text-ink-soft text-[12px]">{new Date(f.kept_at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}</span>
            </span>
            <span className={`figures ${f.crossings > 0 ? "text-brick" : "text-moss"}`}>{f.crossings > 0 ? `${f.crossings} ×` : f.at_rest ? "rests" : "moving"}</span>
          </button>
        ))}
      </Card>
      {state.costume.fabrics.map((f) => (
        <FabricCard key={f.id} fabric={f} actions={actions} />
      ))}
    </>
  );
}
