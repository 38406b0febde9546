import { Tabs } from "radix-ui";
import { BODY_TABS, type BodyTab, bodyDesk, useBody } from "../body/store";
import { ContactCards } from "./ContactCards";
import type { DocketProps } from "./props";
import { MeasureCards } from "./MeasureCards";
import { PoseCards } from "./PoseCards";
import { TapeCards } from "./TapeCards";

const NAMES: Record<BodyTab, string> = { measures: "Measures", pose: "Pose", tape: "Tape", contact: "Contact" };

/** The body on the stand: its size and measures, its pose, tapes over it, and what of it the cloth meets. */
export function BodyCard(props: DocketProps) {
  const tab = useBody((s) => s.tab);
  return (
    <Tabs.Root value={tab} onValueChange={(v) => bodyDesk.go(v as BodyTab)} className="flex flex-col gap-2.5">
      <Tabs.List className="flex rounded-lg border border-edge bg-card p-0.5" aria-label="Body">
        {BODY_TABS.map((key) => (
          <Tabs.Trigger key={key} value={key} data-body-tab={key} className="h-7 flex-1 rounded-md text-[12.5px] data-[state=active]:bg-tape data-[state=active]:font-semibold">
            {NAMES[key]}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value="measures" className="flex flex-col gap-2.5">
        <MeasureCards {...props} />
      </Tabs.Content>
      <Tabs.Content value="pose" className="flex flex-col gap-2.5">
        <PoseCards {...props} />
      </Tabs.Content>
      <Tabs.Content value="tape" className="flex flex-col gap-2.5">
        <TapeCards {...props} />
      </Tabs.Content>
      <Tabs.Content value="contact" className="flex flex-col gap-2.5">
        <ContactCards {...props} />
      </Tabs.Content>
    </Tabs.Root>
  );
}
