import { useEffect } from "react";
import type { SeamView } from "../api/types";
import { useDesk } from "../desk/store";
import { useWalking, walking } from "../table/walking";
import { Button } from "../ui/Button";
import { Slider } from "../ui/Slider";
import { format, formatSigned } from "../ui/units";
import { Card, Row } from "./Card";

/** Walks side b along side a on the table, as on paper, and tells the difference as it goes. */
export function WalkCard({ costume, version, seam }: { costume: number; version: number; seam: SeamView }) {
  const unit = useDesk((s) => s.unit);
  const { seam: now, by, walked } = useWalking();
  const on = now === seam.seam;
  // what is walked is asked anew after an edit, and over with the seam
  // biome-ignore lint/correctness/useExhaustiveDependencies: another version is what it is for
  useEffect(() => {
    if (useWalking.getState().seam === seam.seam) walking.to(costume, seam.seam, useWalking.getState().by);
  }, [costume, seam.seam, version]);
  useEffect(() => walking.stop, [seam.seam]);
  const most = Math.min(seam.a, seam.b);
  const go = (to: number) => walking.to(costume, seam.seam, to);
  return (
    <Card title="Walk the edges">
      {!on && (
        <Button data-walk onClick={() => go(0)}>
          Lay the second side on the first
        </Button>
      )}
      {on && (
        <>
          <Slider label="Walked" value={Math.min(by, most)} low={0} high={most} step={1} onMove={go} onDone={go} />
          {walked && (
            <div data-walked>
              <Row name="Walked" value={format(walked.walked, unit)} />
              <Row name="Left" value={`${format(walked.left[0], unit, false)} and ${format(walked.left[1], unit)}`} />
              {walked.notch !== null && <Row name="Notches here" value={Math.abs(walked.notch) < 0.05 ? "meet" : `${formatSigned(walked.notch, unit)}`} />}
              <Row name="Over at the end" value={formatSigned(walked.left[1] - walked.left[0], unit)} />
            </div>
          )}
          <div className="mt-2 flex gap-2">
            <Button onClick={() => go(most)}>To the end</Button>
            <Button onClick={walking.stop}>Take it off</Button>
          </div>
        </>
      )}
    </Card>
  );
}
