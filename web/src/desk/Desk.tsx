import { useEffect, useMemo, useState } from "react";
import { go } from "../place";
import { useCostume } from "../api/costume";
import { Search } from "../commands/Search";
import { Laboratory } from "../docket/Laboratory";
import { LayingPlan } from "../docket/LayingPlan";
import { useCommandKeys } from "../commands/keys";
import { CompareStand } from "../check/CompareStand";
import { checkDesk, useCheck } from "../check/store";
import { Docket } from "../docket/Docket";
import { Stand } from "../stand/Stand";
import { DrapeSocket } from "../stand/socket";
import { Table } from "../table/Table";
import { rehearse } from "../rehearse/store";
import { Button } from "../ui/Button";
import { Footer } from "./Footer";
import { Header } from "./Header";
import { History } from "./History";
import { Split } from "./Split";
import { desk, useDesk } from "./store";
import { Tape } from "./Tape";

/** The stand; fittings that are compared lie over it. */
function StandRoom(props: Parameters<typeof Stand>[0]) {
  const compares = useDesk((s) => s.stage === "check");
  const comparing = useCheck((s) => s.tab === "compare" && s.compared.length > 0);
  return (
    <div className="relative h-full">
      <Stand {...props} />
      {compares && comparing && (
        <div className="absolute inset-0">
          <CompareStand />
        </div>
      )}
    </div>
  );
}

/** One costume on the desk: header, tape, table and stand, docket, footer. */
export function Desk({ id }: { id: number }) {
  const { state, error, actions } = useCostume(id);
  const [socket, setSocket] = useState<DrapeSocket | null>(null);

  useEffect(() => {
    desk.reset();
    rehearse.reset();
    checkDesk.forget();
    checkDesk.go("findings");
    const opened = new DrapeSocket(id, actions);
    setSocket(opened);
    return () => opened.close();
  }, [id, actions]);

  const scene = useMemo(() => (state && socket ? { state, actions, socket } : null), [state, actions, socket]);
  useCommandKeys(scene);

  if (error && !state)
    return (
      <main className="grid h-full place-items-center">
        <div className="rounded-xl border border-edge bg-card p-6">
          <p className="mb-4">{error.message}</p>
          <Button onClick={() => go("/")}>Back to the rail</Button>
        </div>
      </main>
    );
  if (!state || !socket) return <main className="grid h-full place-items-center text-ink-soft">Opening the costume…</main>;
  return (
    <main className="flex h-full min-w-[1024px] flex-col" data-step={state.step}>
      <Header state={state} actions={actions} socket={socket} />
      <Tape state={state} />
      <div className="flex min-h-0 flex-1">
        <Split table={<Table state={state} actions={actions} />} stand={<StandRoom state={state} actions={actions} socket={socket} />} />
        <Docket state={state} actions={actions} socket={socket} />
      </div>
      <Footer state={state} />
      {scene && <Search scene={scene} />}
      <History state={state} actions={actions} />
      <Laboratory state={state} />
      <LayingPlan state={state} />
    </main>
  );
}
