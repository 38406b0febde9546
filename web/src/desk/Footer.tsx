import { useEffect, useRef } from "react";
import type { CostumeState } from "../api/types";
import { type BodyTab, useBody } from "../body/store";
import { Keys } from "../commands/Keys";
import { useJoining } from "../table/joining";
import { useDrapeOf } from "../stand/socket";
import { format } from "../ui/units";
import { ACTIVITY, deliverWords, drapeWords, isRunning } from "./standing";
import { type Tool, useDesk, useDeskOf, usePointer } from "./store";

const SAYS: Record<Tool, string> = {
  pick: "Drag pieces, corners, handles; Shift selects more. Drag the paper to move it, Shift to draw a box, the wheel to zoom.",
  corner: "Click an edge where the new corner should be.",
  bow: "Drag an edge to bend it; click it to curve it, or to make it straight.",
  outline: "Click point after point, drag at one for a curve, type numbers; the first point or Enter closes the piece.",
  half: "Begin on the fold and draw one half; Enter closes it on the fold.",
  freehand: "Draw around the piece in one stroke.",
  band: "Drag a rectangle, type its size, or give it in the docket.",
  oval: "Drag an ellipse from corner to corner of its box, or type its size.",
  through: "Click an edge, then the points of its curve in order; Enter draws it.",
  disc: "Press at the middle and drag, type the radius, or give a size in the docket.",
  inside: "Click from point to point of a piece; an edge or Enter ends the line.",
  dart: "Press on an edge and draw the dart in; press on the cloth for one with two points.",
  pleats: "Click the edge where the pleats begin, then the edge across.",
  notch: "Click an edge where the notch should be.",
  hole: "Click the cloth where the hole should be.",
  text: "Click the cloth where the text should stand.",
  cut: "Click an edge, points between if need be, and the edge across.",
  spread: "Click the edge that opens, then the edge across.",
  "turn-dart": "Select the point of a dart, then click the edge where it should open.",
  measure: "Click two places to measure between them.",
  trace: "Click inside an outline of the picture; Enter takes what is found, Escape refuses it.",
  "two-points": "Click two places on the picture, then type how far apart they are.",
  ruler: "Click at one end of the ruler, then along it, across its ticks.",
  straighten: "Click four corners of a rectangle, then type its sides.",
  seam: "Click the edge to join, then its partner; drag along an edge for a part of it, Shift takes several.",
  flip: "Click a seam to sew it the other way round.",
  paint: "Draw on a piece; what the brush does and what the paint means is in the docket.",
  unpick: "Click a seam to take it out.",
};

const BODY_SAYS: Record<BodyTab, string> = {
  measures: "Slide a measure to see the body change; drag the landmarks of a figure.",
  pose: "Click a joint on the stand, then drag one of its rings.",
  tape: "Lay a tape over the body, point by point.",
  contact: "Switch off what cloth may pass through, or add a stand-in and move it by its handles.",
};

/** What the next click does, the pointer, the mesh and the simulation in figures. */
export function Footer({ state }: { state: CostumeState }) {
  const { tool, tugging, pinning, stage } = useDeskOf("tool", "tugging", "pinning", "stage");
  const tab = useBody((s) => s.tab);
  const begun = useJoining((s) => s.a.length > 0);
  const { status, connected, rate } = useDrapeOf("status", "connected", "rate");
  const running = isRunning(status);
  // at rest the footer says what stands in the way of a delivery, in the words of the tape
  const [drape, deliver] = [drapeWords(status), deliverWords(status)];
  const now = status?.activity === "at-rest" && deliver.bad ? deliver : drape;
  const says = begun ? "Now click its partner, or several with Shift and then Enter; R turns it round, Escape forgets it." : stage === "drape" && tugging ? "Drag the cloth on the stand." : stage === "drape" && pinning ? "Click the cloth on the stand to pin it, a pin to take it out." : stage === "rehearse" ? "Drag along the time line to look at a frame; the arrow keys go one frame, Page up and down go ten." : stage === "body" ? BODY_SAYS[tab] : SAYS[tool];
  const stops = state.diagnostics.filter((f) => f.severity === "error").length;
  return (
    <footer className="isolate flex h-[28px] shrink-0 items-center gap-5 border-edge border-t bg-card px-4 text-[12px] text-ink-soft">
      <span className="flex-1 truncate" data-says>
        {says}
      </span>
      <Pointer />
      {status && status.triangles > 0 && (
        <span className="figures" data-mesh>
          {typeof state.costume.fineness === "string" ? state.costume.fineness : `${state.costume.fineness.custom} mm`} · {status.triangles} triangles
        </span>
      )}
      {running && status && (
        <span className="figures" data-rate={rate}>
          {status.time.toFixed(1)} s · {status.real_time.toFixed(2)}× · {status.fastest.toFixed(0)} mm/s · {rate} frames/s
        </span>
      )}
      <Keys />
      <span className={`max-w-[320px] truncate rounded-full px-2.5 py-px font-medium ${stops > 0 || !connected || now.bad ? "bg-amber-pale text-amber" : "bg-moss-pale text-moss"}`} data-activity={status?.activity} data-standing title={now.text}>
        {!connected ? "connecting" : stops > 0 ? ACTIVITY.empty : now.text}
      </span>
    </footer>
  );
}

/** Where the pointer is on the table. */
function Pointer() {
  const unit = useDesk((s) => s.unit);
  const text = useRef<HTMLSpanElement>(null);
  // written straight into its own box, so that nothing around it is laid out or drawn again
  useEffect(() => {
    const write = () => {
      const { at } = usePointer.getState();
      // the same piece of text with other letters, which is quicker than another one
      const shown = text.current?.firstChild;
      if (shown) shown.nodeValue = at ? `x ${format(at.x, unit, false)} y ${format(at.y, unit)}` : "";
    };
    write();
    return usePointer.subscribe(write);
  }, [unit]);
  return <span ref={text} className="figures h-[18px] w-[170px] text-right leading-[18px] will-change-transform [contain:strict]" data-pointer>
      {" "}
    </span>;
}
