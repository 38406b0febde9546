import { TRACING } from "../commands/tools";
import { useDeskOf } from "../desk/store";
import { BodyCard } from "./BodyCard";
import { BodyMeasuresCard } from "./BodyMeasuresCard";
import { CheckCards } from "./CheckCards";
import { CostumeCards, Faults } from "./CostumeCards";
import { DeliverCard } from "./DeliverCard";
import { DrapeCards } from "./DrapeCards";
import { LeftOutCard } from "./FilesCard";
import { JoiningCard } from "./JoiningCard";
import { PaintCard } from "./PaintCard";
import { PaperCard } from "./PaperCard";
import { PieceCards } from "./PieceCards";
import { HangingCard, ProposalsCard } from "./ProposalsCard";
import type { DocketProps } from "./props";
import { RehearseCards } from "./RehearseCards";
import { SeamCards, SeamList } from "./SeamCards";
import { SizesCard } from "./SizesCard";
import { ToolCard } from "./ToolCard";
import { TracingCard } from "./TracingCard";

/** Describes and edits what is selected; with nothing selected, the costume and the stage's own cards. */
export function Docket(props: DocketProps) {
  const { stage, selection, tool } = useDeskOf("stage", "selection", "tool");
  return (
    <aside className="isolate flex w-[288px] shrink-0 flex-col gap-2.5 overflow-y-auto overflow-x-hidden border-edge [&>*]:shrink-0 border-l border-dashed bg-paper p-3" aria-label="Docket">
      {stage === "join" && tool === "paint" && <PaintCard {...props} />}
      {stage === "body" && <BodyCard {...props} />}
      {stage === "draft" && (tool === "band" || tool === "oval" || tool === "disc") && <SizesCard {...props} />}
      {stage === "draft" && <LeftOutCard {...props} />}
      {stage === "draft" && <ToolCard />}
      {stage === "draft" && TRACING.includes(tool) && <TracingCard {...props} />}
      {stage === "drape" && <DrapeCards {...props} />}
      {stage === "rehearse" && <RehearseCards {...props} />}
      {stage === "check" && <CheckCards {...props} />}
      {stage === "deliver" && <DeliverCard {...props} />}
      {stage === "deliver" && <PaperCard {...props} />}
      {selection && selection.kind !== "seam" && stage !== "rehearse" && stage !== "check" && stage !== "deliver" && <PieceCards {...props} selection={selection} />}
      {stage === "join" && <JoiningCard {...props} />}
      {stage === "join" && <SeamCards {...props} />}
      {stage === "join" && <Faults state={props.state} actions={props.actions} />}
      {stage === "join" && <ProposalsCard {...props} />}
      {stage === "join" && <HangingCard {...props} />}
      {stage === "join" && <SeamList {...props} />}
      {stage !== "join" && selection?.kind === "seam" && <SeamCards {...props} />}
      {!selection && stage === "draft" && <CostumeCards {...props} />}
      {!selection && stage === "draft" && !TRACING.includes(tool) && <TracingCard {...props} />}
      {!selection && stage === "draft" && <BodyMeasuresCard {...props} />}
    </aside>
  );
}
