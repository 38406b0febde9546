import { useEffect, useMemo } from "react";
import type { CostumeActions } from "../api/costume";
import type { BodyChoice, CostumeState } from "../api/types";
import { useDesk } from "../desk/store";
import type { StandScene } from "../stand/StandScene";
import { poseOf, withAngle, withShape } from "./choice";
import { useFigure, useFigureWork } from "./figure";
import { BodyKeeper, bodyDesk, useBody } from "./store";

/** Keeps the body of the costume, or the one that is tried out, on the stand, and lets the pointer pose it. */
export function useBodyOnStand(scene: StandScene | null, state: CostumeState, actions: CostumeActions) {
  const { view, trial, rough, motion, joint, shape, handling, laying, tape, tab } = useBody();
  const stage = useDesk((s) => s.stage);
  const keeper = useMemo(() => new BodyKeeper(state.id), [state.id]);
  const { body, tapes, pieces } = state.costume;
  const chosen = trial ?? body;
  const figure = useFigure(body.figure);
  const { correct } = useFigureWork();
  // landmarks lie on the rest pose
  const marks = useMemo(() => (stage === "body" && tab === "measures" && body.figure && figure.data && !view?.head.posed ? figure.data.landmarks : []), [stage, tab, body.figure, figure.data, view]);

  useEffect(() => () => keeper.stop(), [keeper]);
  useEffect(() => keeper.want(state), [keeper, state.costume, body, tapes, pieces, trial, rough, motion, laying, tape]);
  // what was tried is kept now
  useEffect(() => {
    if (trial && JSON.stringify(trial) === JSON.stringify(body)) bodyDesk.attempt(null);
  }, [trial, body]);

  useEffect(() => {
    if (!scene || !view) return;
    scene.setBody(view, { tab: stage === "body" ? tab : null, joint, angles: poseOf(chosen), shapes: chosen.contact?.shapes ?? [], shape, handling, laying, landmarks: marks });
  }, [scene, view, stage, tab, joint, chosen, shape, handling, laying, marks]);

  useEffect(() => {
    if (!scene) return;
    const settle = (next: BodyChoice, done: boolean) => {
      bodyDesk.attempt(next);
      if (done) actions.edit({ do: "choose-body", body: next });
    };
    const present = () => useBody.getState().trial ?? body;
    scene.bodyStand.hand = {
      pickJoint: (key) => useBody.setState({ joint: key }),
      turn: (key, freedom, degrees, done) => settle(withAngle(present(), key, freedom, degrees), done),
      pickShape: (index) => useBody.setState({ shape: index }),
      reshape: (index, next, done) => {
        if (done) settle(withShape(present(), index, next), true);
      },
      layAt: bodyDesk.layAt,
      moveLandmark: async (key, at) => {
        const old = figure.data;
        if (!old) return;
        const landmarks = Object.fromEntries(old.landmarks.map((l) => [l.key, l.key === key ? at : l.at]));
        const next = await correct(old.hash, { ...old.sheet, landmarks });
        if (next) actions.edit({ do: "choose-body", body: { ...body, figure: next.hash } });
      },
    };
  }, [scene, body, actions, figure.data]);
}
