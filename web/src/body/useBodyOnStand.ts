import { useEffect, useMemo } from "react";
import type { CostumeActions } from "../api/costume";
import { useOutbox } from "../api/outbox";
import type { BodyChoice, CostumeState } from "../api/types";
import { useDesk } from "../desk/store";
import type { StandScene } from "../stand/StandScene";
import { poseOf, withAngle, withRough, withShape } from "./choice";
import { trials } from "../desk/trial";
import { useFigure, useFigureWork } from "./figure";
import { markOf, steered, useGrips } from "./grips";
import { BodyKeeper, bodyDesk, useBody, useBodyOf } from "./store";

/** Keeps the body of the costume, or the one that is tried out, on the stand, and lets the pointer pose it. */
export function useBodyOnStand(scene: StandScene | null, state: CostumeState, actions: CostumeActions) {
  const { view, trial, settled, rough, motion, joint, shape, handling, laying, tape, tab, roughing } = useBodyOf("view", "trial", "settled", "rough", "motion", "joint", "shape", "handling", "laying", "tape", "tab", "roughing");
  const stage = useDesk((s) => s.stage);
  const keeper = useMemo(() => new BodyKeeper(state.id), [state.id]);
  const { body, tapes, pieces } = state.costume;
  const chosen = trial ?? body;
  const figure = useFigure(body.figure);
  const { correct } = useFigureWork();
  const grips = useGrips(state);
  // landmarks lie on the rest pose
  const marks = useMemo(() => (stage === "draft" ? grips.map(markOf) : stage === "body" && tab === "measures" && body.figure && figure.data && !view?.head.posed ? figure.data.landmarks : []), [stage, tab, body.figure, figure.data, view, grips]);

  useEffect(() => {
    keeper.start();
    return () => keeper.stop();
  }, [keeper]);
  useEffect(() => keeper.want(state), [keeper, state.costume, body, tapes, pieces, trial, rough, motion, laying, tape]);
  // what was tried is kept now, refused, or taken back
  const waiting = useOutbox((s) => s.waiting[state.id]?.length ?? 0);
  useEffect(() => {
    if (trial && settled && waiting === 0) bodyDesk.attempt(null);
  }, [trial, settled, waiting]);

  useEffect(() => {
    if (!scene || !view) return;
    scene.setBody(view, { tab: stage === "body" ? tab : null, joint, angles: poseOf(chosen), shapes: chosen.contact?.shapes ?? [], shape, handling, laying, roughing, rough: chosen.contact?.rough ?? [], landmarks: marks });
  }, [scene, view, stage, tab, joint, chosen, shape, handling, laying, roughing, marks]);

  useEffect(() => {
    if (!scene) return;
    const settle = (next: BodyChoice, done: boolean) => {
      if (!done) return bodyDesk.attempt(next);
      actions.edit({ do: "choose-body", body: next });
      bodyDesk.settle(next);
    };
    const present = () => useBody.getState().trial ?? body;
    scene.bodyStand.hand = {
      pickJoint: (key) => useBody.setState({ joint: key }),
      turn: (key, freedom, degrees, done) => settle(withAngle(present(), key, freedom, degrees), done),
      pickShape: (index) => useBody.setState({ shape: index }),
      reshape: (index, next, done) => {
        if (done) settle(withShape(present(), index, next), true);
      },
      cancel: () => {
        bodyDesk.attempt(null);
        trials.clear();
      },
      layAt: bodyDesk.layAt,
      roughen: (points, done) => {
        const { roughing } = useBody.getState();
        if (roughing) settle(withRough(body, [...(body.contact?.rough ?? []), ...points.map((at) => ({ at, ...roughing }))]), done);
      },
      moveLandmark: async (key, at, done) => {
        const steer = steered(state, grips, key, at);
        if (steer && !done) return trials.show(steer);
        if (steer) {
          actions.edit(steer);
          return trials.settle();
        }
        if (!done) return;
        const old = figure.data;
        if (!old) return;
        const landmarks = Object.fromEntries(old.landmarks.map((l) => [l.key, l.key === key ? at : l.at]));
        const next = await correct(old.hash, { ...old.sheet, landmarks });
        if (next) actions.edit({ do: "choose-body", body: { ...body, figure: next.hash } });
      },
    };
  }, [scene, state, body, actions, figure.data, grips]);
}
