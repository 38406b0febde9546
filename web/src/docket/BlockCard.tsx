import type { CostumeActions } from "../api/costume";
import type { BlockUse } from "../api/types";
import { useDesk } from "../desk/store";
import { useRecipes } from "../table/Blocks";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { Card } from "./Card";

/** The values that a block is `drafted` with, chosen or usual on its body; a change drafts it anew. */
export function BlockCard({ block, drafted, actions }: { block: BlockUse; drafted: Record<string, number | undefined>; actions: CostumeActions }) {
  const unit = useDesk((s) => s.unit);
  const recipe = useRecipes().data?.find((r) => r.key === block.recipe);
  if (!recipe) return null;
  const values = block.values ?? {};
  return (
    <Card title={`Block: ${recipe.name}`}>
      {recipe.values.map((v) => (
        <NumberField
          key={v.key}
          label={v.name}
          value={drafted[v.key] ?? v.low}
          unit={unit}
          {...(v.unit === "mm" ? {} : { plain: v.unit, step: v.high > 10 ? 5 : 0.1 })}
          onChange={(now) => actions.edit({ do: "change-block", block: block.id, values: { ...values, [v.key]: Math.min(v.high, Math.max(v.low, now)) } })}
        />
      ))}
      <p className="mt-2 text-ink-soft">It follows the body's measures until a corner or an edge is changed by hand.</p>
      <Button className="mt-2" onClick={() => actions.edit({ do: "detach-block", block: block.id })}>
        Follow the body no longer
      </Button>
    </Card>
  );
}
