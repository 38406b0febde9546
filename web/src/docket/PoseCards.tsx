import { FlipHorizontal2, Play, RotateCcw, Save, Trash2, Upload } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { useBodies } from "../api/costume";
import { get, Refused } from "../api/http";
import type { BodyChoice, BoneShown } from "../api/types";
import { mirrored, otherSide, samePose, withAngle, withPose } from "../body/choice";
import { useFigure } from "../body/figure";
import type { Point3 } from "../body/point";
import { bodyDesk, useBody, useBodyOf } from "../body/store";
import { FileField } from "../ui/FileField";
import { AskName } from "../ui/AskName";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { notify } from "../ui/notices";
import { Slider } from "../ui/Slider";
import { Card } from "./Card";
import type { DocketProps } from "./props";

type Pose = Record<string, Point3>;
interface Named {
  key: string;
  name: string;
  bones: Pose;
  own: boolean;
}

/** Poses that ship with the bones of this body, and those kept with the costume. */
function useNamedPoses({ state }: DocketProps): Named[] {
  const bodies = useBodies();
  const { view } = useBodyOf("view");
  const shipped = (bodies.data?.poses ?? []).map((p) => ({ ...p, own: false }));
  // figures with the own bones, as those that came without any have, take them too
  const has = new Set(view?.head.bones.map((b) => b.key));
  const moves = !state.costume.body.figure || Object.keys(bodies.data?.bones ?? {}).every((key) => has.has(key));
  const offered = moves ? shipped : shipped.slice(0, 1);
  return [...offered, ...(state.costume.poses ?? []).map((p) => ({ key: `own:${p.name}`, name: p.name, bones: p.bones, own: true }))] as Named[];
}

/** Named poses, joint angles, and a motion between two poses. */
export function PoseCards(props: DocketProps) {
  const { state, actions } = props;
  const { view, trial, joint } = useBodyOf("view", "trial", "joint");
  const [naming, setNaming] = useState(false);
  const named = useNamedPoses(props);
  const body = trial ?? state.costume.body;
  const pose = (body.pose ?? {}) as Pose;
  const current = named.find((p) => samePose(p.bones, pose));
  const take = (next: BodyChoice) => {
    actions.edit({ do: "choose-body", body: next });
    bodyDesk.settle(next);
  };
  const bone = view?.head.bones.find((b) => b.key === joint);
  if (view && view.head.bones.length === 0)
    return (
      <Card title="Pose">
        <p className="text-ink-soft">This figure has no bones, so it stands as it came.</p>
      </Card>
    );
  return (
    <>
      <Card title="Pose">
        <Choice label="Pose" value={current?.key ?? ""} none="Own pose" options={named.map((p) => [p.key, p.name] as const)} onChange={(key) => take(withPose(body, named.find((p) => p.key === key)?.bones ?? {}))} />
        <div className="mt-2 grid grid-cols-2 gap-1.5">
          <Button data-keep-pose onClick={() => setNaming(true)}>
            <Save size={14} /> Keep…
          </Button>
          <Button data-mirror-pose onClick={() => take(withPose(body, mirrored(pose)))}>
            <FlipHorizontal2 size={14} /> Mirror
          </Button>
          <Button data-reset-pose disabled={samePose(pose)} onClick={() => take(withPose(body, {}))}>
            <RotateCcw size={14} /> Reset
          </Button>
          <Button data-forget-pose disabled={!current?.own} onClick={() => current && actions.edit({ do: "forget-pose", name: current.name })}>
            <Trash2 size={14} /> Forget
          </Button>
        </div>
        <PoseFiles pose={pose} name={current?.name ?? "Own pose"} onPose={(next) => take(withPose(body, next))} />
      </Card>
      <Card title="Joint">
        <Choice
          label="Joint"
          value={joint ?? ""}
          none="Click one on the stand"
          options={(view?.head.bones ?? []).filter((b) => b.freedoms.some((f) => f.low < f.high)).map((b) => [b.key, b.name] as const)}
          onChange={(key) => useBody.setState({ joint: key })}
        />
        {bone ? <JointAngles bone={bone} body={body} take={take} /> : <p className="mt-2 text-ink-soft">Then drag its rings, or set the angles here.</p>}
      </Card>
      <Motion named={named} pose={pose} />
      {body.figure && <FileMotion hash={body.figure} body={body} take={take} />}
      {naming && (
        <AskName
          title="Keep this pose"
          label="Name of the pose"
          confirm="Keep"
          start={current?.own ? current.name : ""}
          onDone={(name) => actions.edit({ do: "keep-pose", pose: { name, bones: pose } })}
          onClose={() => setNaming(false)}
        />
      )}
    </>
  );
}

function JointAngles({ bone, body, take }: { bone: BoneShown; body: BodyChoice; take: (next: BodyChoice) => void }) {
  const angles = (body.pose?.[bone.key] ?? [0, 0, 0]) as Point3;
  const pose = (body.pose ?? {}) as Pose;
  const other = otherSide(bone.key);
  return (
    <div className="mt-2" data-joint={bone.key}>
      {bone.freedoms.map((f, i) =>
        f.low < f.high ? (
          <div key={f.name} className="pb-1.5" title={`${f.low}° to ${f.high}°`} data-freedom={i} data-angle={angles[i]}>
            <NumberField label={f.name} value={angles[i] ?? 0} unit="cm" plain="°" narrow onChange={(v) => take(withAngle(body, bone.key, i, Math.min(f.high, Math.max(f.low, v))))} />
            <Slider label={`${f.name}, slider`} value={angles[i] ?? 0} low={f.low} high={f.high} step={1} onMove={(v) => bodyDesk.attempt(withAngle(body, bone.key, i, v))} onDone={(v) => take(withAngle(body, bone.key, i, v))} onCancel={() => bodyDesk.attempt(null)} />
          </div>
        ) : null,
      )}
      <div className="mt-1 grid grid-cols-2 gap-1.5">
        <Button disabled={angles.every((a) => a === 0)} data-reset-joint onClick={() => take(withPose(body, { ...pose, [bone.key]: [0, 0, 0] }))}>
          <RotateCcw size={14} /> Reset joint
        </Button>
        <Button disabled={other === bone.key} data-other-side onClick={() => take(withPose(body, { ...pose, [other]: angles }))}>
          <FlipHorizontal2 size={14} /> Both sides
        </Button>
      </div>
    </div>
  );
}

/** Pose files: open JSON with degrees by bone. */
function PoseFiles({ pose, name, onPose }: { pose: Pose; name: string; onPose: (pose: Pose) => void }) {
  const save = () => {
    const text = `${JSON.stringify({ name, bones: pose }, null, 2)}\n`;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = `${name.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.pose.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const load = async (file: File) => {
    const refuse = (reason: string) => notify({ item: file.name, reason, remedy: "Choose a pose file: degrees of bend, side and turn by bone" });
    if (file.size > 1 << 20) return refuse("is too large for a pose");
    try {
      const bones: unknown = JSON.parse(await file.text()).bones;
      const angles = (v: unknown): v is Point3 => Array.isArray(v) && v.length === 3 && v.every((a) => typeof a === "number" && Number.isFinite(a));
      if (typeof bones !== "object" || bones === null || !Object.values(bones).every(angles)) return refuse("has no angles by bone");
      onPose(bones as Pose);
    } catch {
      refuse("cannot be read as JSON");
    }
  };
  return (
    <div className="mt-1.5 grid grid-cols-2 gap-1.5">
      <Button onClick={save}>Save file</Button>
      <FileField accept=".json" mark="pose-file" onFile={(file) => void load(file)}>
        {(open) => (
          <Button onClick={open}>
            <Upload size={14} /> Load file
          </Button>
        )}
      </FileField>
    </div>
  );
}

/** A motion that came with the figure: any frame of it can be taken as the pose. */
function FileMotion({ hash, body, take }: { hash: string; body: BodyChoice; take: (next: BodyChoice) => void }) {
  const figure = useFigure(hash);
  const [motion, setMotion] = useState(0);
  const [frame, setFrame] = useState(0);
  const motions = figure.data?.motions ?? [];
  const chosen = motions[motion];
  const wanted = useRef(0);
  if (!chosen) return null;
  const show = async (next: number, done: boolean) => {
    setFrame(next);
    wanted.current = next;
    try {
      const posed = withPose(body, await get<Pose>(`/api/figures/${hash}/motions/${motion}/${next}`));
      if (done) take(posed);
      else if (wanted.current === next) bodyDesk.attempt(posed);
    } catch (error) {
      if (error instanceof Refused) notify(error.refusal);
    }
  };
  return (
    <Card title="Motion from the file">
      <Choice label="Motion" value={String(motion)} options={motions.map((m, i) => [String(i), m.name] as const)} onChange={(v) => setMotion(Number(v))} />
      <NumberField label="Frame" value={frame + 1} unit="cm" plain={`of ${chosen.frames}`} step={1} onChange={(v) => void show(Math.min(chosen.frames, Math.max(1, Math.round(v))) - 1, true)} />
      <Slider label="Frame, slider" value={frame} low={0} high={Math.max(chosen.frames - 1, 1)} step={1} onMove={(v) => void show(v, false)} onDone={(v) => void show(v, true)} onCancel={() => bodyDesk.attempt(null)} />
    </Card>
  );
}

const RATE = 30;

/** Shows the way from another pose into this one. */
function Motion({ named, pose }: { named: Named[]; pose: Pose }) {
  const [from, setFrom] = useState("a");
  const [frames, setFrames] = useState(30);
  const [frame, setFrame] = useState<number | null>(null);
  const start = named.find((p) => p.key === from)?.bones ?? {};
  const playing = frame !== null;
  useEffect(() => {
    if (!playing) return;
    const began = performance.now();
    const timer = window.setInterval(() => {
      const at = Math.min(frames - 1, Math.floor(((performance.now() - began) / 1000) * RATE));
      const share = 1 - at / Math.max(frames - 1, 1);
      useBody.setState({ motion: at >= frames - 1 ? null : { from: start, share } });
      setFrame(at >= frames - 1 ? null : at);
    }, 1000 / RATE);
    return () => window.clearInterval(timer);
  }, [playing, frames]);
  return (
    <Card title="Motion">
      <Choice label="From" value={from} options={named.map((p) => [p.key, p.name] as const)} onChange={setFrom} />
      <NumberField label="Frames" value={frames} unit="cm" plain="" narrow onChange={(v) => setFrames(Math.round(Math.min(600, Math.max(2, v))))} />
      <Button className="mt-2 w-full" disabled={playing || samePose(start, pose)} data-play-motion onClick={() => setFrame(0)}>
        <Play size={14} /> {playing ? `Frame ${(frame ?? 0) + 1} of ${frames}` : "Show the motion"}
      </Button>
    </Card>
  );
}
