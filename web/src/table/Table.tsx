import type { DragEvent } from "react";
import type { CostumeActions } from "../api/costume";
import type { CostumeState } from "../api/types";
import { useSheets } from "../commands/sheets";
import { desk, useDesk } from "../desk/store";
import { Blocks } from "./Blocks";
import { Paper } from "./Paper";
import { readPieces } from "./patternFile";
import { TableMenu } from "./TableMenu";
import { TableView, Tray } from "./Tray";
import { bringPicture, isPicture, underlaysOf } from "./underlays";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
}

/** The flat side: the paper with its pieces, the menu of what is under the pointer, the tools. */
export function Table({ state, actions }: Props) {
  const tool = useDesk((s) => s.tool);
  const underlays = underlaysOf(state);
  // a picture that is dropped lies under the paper, a pattern file is read
  const dropped = (e: DragEvent) => {
    const file = e.dataTransfer.files[0];
    if (!file) return;
    e.preventDefault();
    desk.go("draft");
    void (isPicture(file.name) ? bringPicture(file, state, actions) : readPieces(file, state, actions));
  };
  return (
    <section className="@container relative isolate h-full overflow-hidden bg-sheet" aria-label="Table" data-table-focus onDragOver={(e) => e.preventDefault()} onDrop={dropped}>
      <TableMenu state={state} actions={actions}>
        <div className="h-full">
          <Paper state={state} actions={actions} />
        </div>
      </TableMenu>
      <h2 className="pointer-events-none absolute top-7 left-7 font-heading font-semibold text-[13px] text-ink-soft">Table</h2>
      {state.costume.pieces.length === 0 && (tool === "pick" || tool === "seam") && (
        <div className="pointer-events-none absolute inset-0 flex flex-col items-center justify-center gap-3">
          {underlays.length > 0 ? (
            <button type="button" className="pointer-events-auto rounded-lg bg-ink px-5 py-3 font-medium text-card shadow-sm" onClick={() => useDesk.setState({ stage: "draft", tool: "trace" })} data-trace-first>
              Trace an outline of the picture
            </button>
          ) : (
            <EmptyOffers />
          )}
        </div>
      )}
      <Blocks state={state} actions={actions} />
      <TableView />
      <Tray />
    </section>
  );
}

/** What an empty costume can begin with. */
function EmptyOffers() {
  return (
    <>
      <p className="text-ink-soft">The table is empty.</p>
      <button type="button" className="pointer-events-auto rounded-lg bg-ink px-5 py-3 font-medium text-card shadow-sm" data-lay-block onClick={() => (desk.go("draft"), useSheets.setState({ open: "blocks" }))}>
        Lay a block from the body's measures
      </button>
      <button type="button" className="pointer-events-auto rounded-lg border border-edge bg-card px-5 py-3 shadow-sm" onClick={() => useDesk.setState({ stage: "draft", tool: "outline" })}>
        Draw the first piece
      </button>
    </>
  );
}
