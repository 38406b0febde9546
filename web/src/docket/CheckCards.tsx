import type { CrossingPlace } from "../api/types";
import { desk, useDesk } from "../desk/store";
import { useDrapeOf } from "../stand/socket";
import { Button } from "../ui/Button";
import { Advice, Card, Row } from "./Card";
import type { DocketProps } from "./props";
import { Findings } from "./Findings";

/** What the cloth goes through at a place. */
const through = (c: CrossingPlace) => (c.kind === "cloth-body" ? "into the body" : c.kind === "cloth-cloth" ? "through cloth" : `through the ${c.part?.replace("-", " ")}, which is left out`);

const percent = (v: number) => `${(v * 100).toFixed(2)} %`;

/** Crossings to fly to, and the tension map. */
export function CheckCards({ state, socket }: DocketProps) {
  const { checked, status } = useDrapeOf("checked", "status");
  const tension = useDesk((s) => s.tension);
  const name = (id: number) => state.costume.pieces.find((p) => p.id === id)?.name ?? "a piece";
  const draped = status?.activity === "at-rest" || status?.activity === "paused";
  if (!checked)
    return (
      <Card title="Check">
        <p className="mb-3 text-ink-soft">{draped ? "The drape has not been checked yet." : "Drape the costume first; the check looks at the cloth as it hangs."}</p>
        <Button disabled={!draped} onClick={() => socket.send({ do: "check" })}>
          Check the drape
        </Button>
      </Card>
    );
  return (
    <>
      <Card title="Crossings">
        <Findings findings={status?.findings ?? []} />
        <div className={`figures mb-1 text-[15px] ${checked.crossings.length === 0 ? "text-moss" : "text-brick"}`} data-crossings={checked.crossings.length}>
          {checked.crossings.length === 0 ? "none found" : `${checked.crossings.length} places`}
        </div>
        {checked.crossings.map((c, i) => (
          <button key={`${c.at.join()}`} type="button" data-crossing onClick={() => desk.flyTo(c)} className="flex w-full items-center gap-2 rounded-md px-1 py-1.5 text-left hover:bg-paper">
            <span className="figures grid h-6 w-6 place-items-center rounded-full bg-brick text-card">{i + 1}</span>
            <span className="flex-1">
              {c.pieces.map(name).join(", ")} {through(c)}
            </span>
            <span className="figures text-ink-soft">{c.pairs}</span>
          </button>
        ))}
        {checked.crossings.length > 0 && <Advice>Drape on, tug the cloth free, or rehang the piece farther from the body.</Advice>}
      </Card>
      <Card title="Tension">
        <Row name="Mean" value={percent(checked.strain_mean)} />
        <Row name="99 of 100 below" value={percent(checked.strain_p99)} />
        <Row name="Largest" value={percent(checked.strain_max)} />
        <label className="mt-1 flex items-center gap-2">
          <input type="checkbox" data-tension checked={tension} onChange={(e) => useDesk.setState({ tension: e.target.checked })} /> Show it as a map on the stand
        </label>
      </Card>
    </>
  );
}
