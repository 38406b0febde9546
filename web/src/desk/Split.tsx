import { type ReactNode, useEffect } from "react";
import { Group, Panel, Separator, useGroupRef } from "react-resizable-panels";
import { type Stage, useDesk } from "./store";

/** Share of the table in the room of table and stand, percent, until the designer draws the gutter. */
const TABLE: Record<Stage, number> = { body: 28, draft: 64, join: 64, drape: 34, rehearse: 20, check: 28, deliver: 28 };
const LEAST = 15;

const key = (stage: Stage) => `ourlet.split.${stage}`;

function shareOf(stage: Stage): number {
  const kept = Number(localStorage.getItem(key(stage)) ?? Number.NaN);
  return kept >= LEAST && kept <= 100 - LEAST ? kept : TABLE[stage];
}

/** Table and stand side by side; each stage remembers how the room is shared. */
export function Split({ table, stand }: { table: ReactNode; stand: ReactNode }) {
  const stage = useDesk((s) => s.stage);
  const group = useGroupRef();
  useEffect(() => {
    const share = shareOf(stage);
    group.current?.setLayout({ table: share, stand: 100 - share });
  }, [stage, group]);
  return (
    <Group
      orientation="horizontal"
      className="min-w-0 flex-1"
      groupRef={group}
      onLayoutChanged={(layout, { isUserInteraction }) => {
        if (isUserInteraction && layout.table !== undefined) localStorage.setItem(key(useDesk.getState().stage), layout.table.toFixed(2));
      }}
    >
      <Panel id="table" defaultSize={`${shareOf(stage)}%`} minSize={`${LEAST}%`}>
        {table}
      </Panel>
      <Separator aria-label="Gutter between table and stand" className="w-[5px] bg-line/50 transition-colors duration-150 hover:bg-thread" data-gutter />
      <Panel id="stand" defaultSize={`${100 - shareOf(stage)}%`} minSize={`${LEAST}%`}>
        {stand}
      </Panel>
    </Group>
  );
}
