import { memo } from "react";
import type { CostumeActions } from "../api/costume";
import { useDesk } from "../desk/store";
import { evaluate } from "../ui/units";
import { type Camera, toScreen } from "./camera";
import { Fields } from "./Numbers";
import { useSketch } from "./sketch";
import { answer } from "./tools/tracing";

const WORDS = {
  length: ["They are apart"],
  rectangle: ["First side", "Second side"],
  ruler: ["Tick to tick"],
};

/** Asks at the pointer how long in truth is what was marked on a picture. */
export const Asked = memo(function Asked({ camera, actions }: { camera: Camera; actions: CostumeActions }) {
  const asked = useSketch((s) => s.asked);
  const unit = useDesk((s) => s.unit);
  const last = asked?.points[asked.points.length - 1];
  if (!asked || !last) return null;
  const p = toScreen(camera, last);
  const names = WORDS[asked.kind];
  const { ticks } = asked;
  return (
    <div className="absolute z-10 w-[212px] rounded-lg border border-edge bg-card p-2 shadow-lg" style={{ left: p.x + 14, top: p.y + 14 }} data-asked={asked.kind}>
      {ticks && (
        <p className="pb-1 text-[12px]">
          {ticks.count} even ticks, now {ticks.spacing.toFixed(3)} mm apart
        </p>
      )}
      <Fields
        names={names}
        first={ticks ? "1 mm" : ""}
        start={names.map(() => "")}
        onDone={(texts) => {
          const values = texts.map((t) => evaluate(t, unit));
          if (values.every((v): v is number => v !== null && v > 0)) answer({ actions }, values);
        }}
        onCancel={() => useSketch.setState({ asked: null, nodes: [] })}
      />
      <p className="mt-1 text-[11px] text-ink-soft">Enter sets it; Escape leaves the picture as it is</p>
    </div>
  );
});
