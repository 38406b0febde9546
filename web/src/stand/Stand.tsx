import { Hand, Pause, Pin, Play, RotateCcw, StepForward } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { type CostumeActions, useSwatches } from "../api/costume";
import type { CostumeState, Note, Swatch } from "../api/types";
import { useBodyOnStand } from "../body/useBodyOnStand";
import { BodyNote, BodyTools } from "../body/BodyTools";
import type { Point3 } from "../body/point";
import { useBody } from "../body/store";
import { desk, selectedPiece, useDesk, useDeskOf } from "../desk/store";
import { Tip } from "../ui/Tip";
import { Legend } from "./Legend";
import { useReel } from "../rehearse/useReel";
import { usePlannedOnStand } from "../rehearse/planned";
import { useRehearse } from "../rehearse/store";
import { TimeLine } from "../rehearse/TimeLine";
import { useSpots } from "./spots";
import { usePlacing } from "./usePlacing";
import type { Overlay } from "./overlays";
import { usePlain } from "./quality";
import { StandScene, type ViewName } from "./StandScene";
import { type DrapeSocket, useDrapeOf } from "./socket";

interface Props {
  state: CostumeState;
  actions: CostumeActions;
  socket: DrapeSocket;
}

const VIEWS: [ViewName, string][] = [
  ["front", "Front"],
  ["side", "Side"],
  ["back", "Back"],
];

const OVERLAYS: [Overlay, string, string][] = [
  ["mesh", "Mesh", "Draw the triangles over the cloth"],
  ["grain", "Grain", "Draw lines along the warp, 5 cm apart"],
  ["held", "Held", "Mark where the cloth is held to the body"],
  ["seams", "Edges", "Draw the edges and seams of all pieces"],
];

/** The 3D side: the body with the pieces around it or draped on it. */
export function Stand({ state, actions, socket }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [scene, setScene] = useState<StandScene | null>(null);
  const hand = useRef(0);
  const book = useSwatches();
  const { mapped, flight, tugging, pinning, noting, isolated, stage, clothed, overlays } = useDeskOf("mapped", "flight", "tugging", "pinning", "noting", "isolated", "stage", "clothed", "overlays");
  const { spans, sewn, held, generation, checked, status } = useDrapeOf("spans", "sewn", "held", "generation", "checked", "status");
  const seam = useDesk((s) => (s.selection?.kind === "seam" ? s.selection.seam : null));

  useEffect(() => {
    if (!canvas.current) return;
    const made = new StandScene(canvas.current);
    setScene(made);
    const frame = canvas.current.parentElement;
    const observer = new ResizeObserver(() => frame && made.resize(frame.clientWidth, frame.clientHeight));
    if (frame) observer.observe(frame);
    const follow = usePlain.subscribe((s) => made.setPlain(s.plain));
    return () => {
      follow();
      observer.disconnect();
      made.dispose();
    };
  }, []);

  const reel = useReel(scene);
  const replayed = reel !== null;
  const rehearsed = useRehearse((s) => s.row !== null);
  useEffect(() => {
    // a rehearsal has the stand to itself; afterwards the newest frame of the drape comes back
    if (!scene || replayed) return;
    return socket.listen((frame) => {
      if (frame.kind === "layout") scene.setLayout(frame.layout);
      if (frame.kind === "cloth") scene.setCloth(frame.cloth);
      if (frame.kind === "map") scene.setMap(frame.map, frame.values);
    });
  }, [scene, socket, replayed]);

  usePlannedOnStand(scene);
  useBodyOnStand(scene, state, actions);

  const look = useMemo(() => JSON.stringify([state.costume.fabrics, state.costume.pieces.map((p) => [p.fabric, p.grain])]), [state.costume]);
  const swatches = useMemo(() => new Map<string, Swatch>((book.data?.swatches ?? []).map((s) => [s.key, s])), [book.data]);
  const shownSpans = reel?.head.pieces ?? spans;
  useEffect(() => scene?.setPieces(state.costume, shownSpans, swatches), [scene, shownSpans, generation, look, swatches]);
  useEffect(() => scene?.showOverlays(new Set(overlays)), [scene, overlays]);
  const joins = stage === "join";
  useEffect(() => scene?.setHeld(replayed ? [] : held), [scene, held, replayed]);
  const stitches = JSON.stringify(state.pattern.seams.flatMap((s) => s.stitches));
  useEffect(() => scene?.setStitches(JSON.parse(stitches)), [scene, stitches]);
  useEffect(() => scene?.showThreads({ chosen: sewn.flatMap((id, k) => (id === seam ? [k] : [])), all: joins }), [scene, sewn, seam, joins]);
  const trouble = JSON.stringify(stage === "drape" ? (status?.trouble?.at ?? null) : null);
  useEffect(() => scene?.setTrouble(JSON.parse(trouble)), [scene, trouble]);
  const hands = JSON.stringify(status?.hands ?? []);
  useEffect(() => scene?.setHands(JSON.parse(hands)), [scene, hands]);
  useEffect(() => scene?.showMap(mapped && checked !== null), [scene, mapped, checked]);
  useEffect(() => scene?.setFlags(stage === "check" ? (checked?.crossings ?? []) : []), [scene, checked, stage]);
  useEffect(() => scene?.isolate(isolated), [scene, isolated, checked]);
  // what was looked at by itself is gone once the cloth is checked anew
  useEffect(() => useDesk.setState({ isolated: null }), [checked]);
  const notes = JSON.stringify(stage === "check" ? (state.costume.notes ?? []).filter((n) => !n.done) : []);
  useEffect(() => scene?.setNotes(JSON.parse(notes) as Note[]), [scene, notes]);
  useEffect(() => {
    if (!flight || !scene) return;
    if ("note" in flight.to) scene.flyToNote(flight.to.note);
    else scene.flyTo(flight.to.at);
  }, [scene, flight]);
  useEffect(() => {
    if (scene && status?.activity === "empty") scene.clearCloth();
  }, [scene, status?.activity]);
  useEffect(() => {
    if (!scene) return;
    scene.pointing.tugging = tugging
      ? {
          grab: (vertex) => socket.send({ do: "grab", hand: hand.current, vertex }),
          pull: (at) => socket.send({ do: "pull-to", hand: hand.current, at }),
          release: (keep) => {
            if (keep) hand.current += 1;
            else socket.send({ do: "let-go", hand: hand.current });
          },
        }
      : null;
    // hands that were left behind open when the tool is put down
    if (!tugging && hand.current > 0) {
      hand.current = 0;
      socket.send({ do: "let-go" });
    }
  }, [scene, tugging, socket]);

  useEffect(() => {
    if (scene) scene.pointing.pinning = pinning ? (vertex) => socket.send({ do: "pin", vertex }) : null;
  }, [scene, pinning, socket]);
  const moving = status?.motion ?? null;
  useEffect(() => {
    if (!moving) return;
    // the body on the stand goes along with the one that the cloth meets
    useBody.setState({ motion: { from: moving.from as Record<string, Point3>, share: moving.left } });
    return () => useBody.setState({ motion: null });
  }, [moving]);
  const pins = JSON.stringify(status?.pins ?? []);
  useEffect(() => scene?.setPins(JSON.parse(pins) as number[]), [scene, pins, generation]);

  useEffect(() => {
    if (!scene) return;
    const mark = () => scene.mark(selectedPiece(useDesk.getState().selection), useDesk.getState().hovered);
    mark();
    // hovering draws nothing of the page again
    return useDesk.subscribe((now, before) => {
      if (now.selection !== before.selection || now.hovered !== before.hovered) mark();
    });
  }, [scene]);
  useEffect(() => scene?.showCloth(clothed), [scene, clothed]);
  usePlacing(scene, state, actions);

  return (
    <section className="relative isolate h-full overflow-hidden bg-sheet" aria-label="Stand">
      <div className={`absolute inset-x-0 top-0 ${stage === "rehearse" && rehearsed ? "bottom-[116px]" : "bottom-0"}`}>
        <canvas ref={canvas} data-stand data-pins={status?.pins.length ?? 0} data-held={held.length} className={`absolute inset-0 h-full w-full ${tugging ? "cursor-grab" : pinning || noting ? "cursor-crosshair" : ""}`} />
      </div>
      <h2 className="pointer-events-none absolute top-3 left-4 font-heading font-semibold text-[13px] text-ink-soft">Stand</h2>
      <div className="absolute top-2 right-3 flex items-center gap-0.5 rounded-lg border border-edge bg-card/90 p-0.5" role="toolbar" aria-label="View">
        {VIEWS.map(([view, name]) => (
          <button key={view} type="button" onClick={() => scene?.view(view)} className="h-7 rounded-md px-2 hover:bg-tape">
            {name}
          </button>
        ))}
      </div>
      <div className="absolute top-11 right-3 flex w-[76px] flex-col gap-0.5 rounded-lg border border-edge bg-card/90 p-0.5" role="toolbar" aria-label="What is shown">
        <button
          type="button"
          aria-pressed={clothed}
          data-clothed={clothed}
          title={clothed ? "Show the body alone" : "Show the cloth"}
          onClick={() => useDesk.setState({ clothed: !clothed })}
          className={`h-7 rounded-md px-2 text-left ${clothed ? "bg-tape" : "hover:bg-tape/60"}`}
        >
          Cloth
        </button>
        {OVERLAYS.map(([overlay, name, says]) => (
          <button
            key={overlay}
            type="button"
            disabled={!clothed}
            aria-pressed={overlays.includes(overlay)}
            data-overlay={overlay}
            title={says}
            onClick={() => desk.toggleOverlay(overlay)}
            className={`h-7 rounded-md px-2 text-left disabled:opacity-40 ${overlays.includes(overlay) ? "bg-tape" : "hover:bg-tape/60"}`}
          >
            {name}
          </button>
        ))}
      </div>
      <SpotName />
      {mapped && checked && <Legend map={checked.map} />}
      <BodyNote />
      {stage === "body" && <BodyTools state={state} actions={actions} />}
      {stage === "rehearse" && <TimeLine />}
      {stage === "drape" && (
        <div className="absolute bottom-4 left-1/2 flex -translate-x-1/2 items-center gap-1 rounded-xl bg-ink p-1.5 text-card shadow-lg" role="toolbar" aria-label="Stand tray">
          <DrapeTools socket={socket} />
        </div>
      )}
    </section>
  );
}

function DrapeTools({ socket }: { socket: DrapeSocket }) {
  const { status } = useDrapeOf("status");
  const { tugging, pinning } = useDeskOf("tugging", "pinning");
  const running = status?.activity === "closing" || status?.activity === "falling";
  const tool = "flex h-8 items-center gap-1.5 rounded-lg px-2.5 font-medium disabled:opacity-40";
  const plain = "hover:bg-card/10";
  const empty = !status || status.activity === "empty";
  return (
    <>
      <Tip text={running ? "Stop the simulation here" : "Sew and drape until the cloth rests"}>
        <button type="button" disabled={empty} data-run className={`${tool} ${plain}`} onClick={() => socket.send({ do: running ? "pause" : "drape" })}>
          {running ? <Pause size={15} /> : <Play size={15} />} {running ? "Pause" : "Drape"}
        </button>
      </Tip>
      <Tip text="One time step">
        <button type="button" aria-label="One time step" disabled={empty || running} className={`${tool} ${plain}`} onClick={() => socket.send({ do: "step" })}>
          <StepForward size={15} />
        </button>
      </Tip>
      <Tip text="Put the pieces back where they were placed">
        <button type="button" data-rehang disabled={empty} className={`${tool} ${plain}`} onClick={() => socket.send({ do: "rehang" })}>
          <RotateCcw size={15} /> Rehang
        </button>
      </Tip>
      <Tip text="Pull the cloth with the pointer; hold Shift when you release to leave the hand there">
        <button type="button" data-tug aria-pressed={tugging} disabled={empty} className={`${tool} ${tugging ? "bg-tape text-ink" : plain}`} onClick={() => useDesk.setState({ tugging: !tugging, pinning: false })}>
          <Hand size={15} /> Tug
        </button>
      </Tip>
      <Tip text="Click the cloth to pin it where it is, or a pin to take it out">
        <button type="button" data-pin aria-pressed={pinning} disabled={empty} className={`${tool} ${pinning ? "bg-tape text-ink" : plain}`} onClick={() => useDesk.setState({ pinning: !pinning, tugging: false })}>
          <Pin size={15} /> Pin
        </button>
      </Tip>
    </>
  );
}

/** The spot that a piece would hang at when it is let go. */
function SpotName() {
  const { carried, near } = useSpots();
  if (carried === null) return null;
  return (
    <div className="-translate-x-1/2 pointer-events-none absolute bottom-4 left-1/2 rounded-lg bg-ink px-3 py-1.5 text-card" data-spot={near?.key ?? ""}>
      {near ? near.name : "Drop it on a spot of the body"}
    </div>
  );
}
