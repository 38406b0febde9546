import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import type { CostumeActions } from "../api/costume";
import { get } from "../api/http";
import type { CostumeState, RecipeOffer } from "../api/types";
import { useSheets } from "../commands/sheets";
import { desk } from "../desk/store";
import { besideAll } from "./shown";

/** The recipes of blocks, which never change while the server runs. */
export const useRecipes = () => useQuery({ queryKey: ["recipes"], queryFn: () => get<RecipeOffer[]>("/api/recipes"), staleTime: Number.POSITIVE_INFINITY });

/** Chooses a block that is drafted from the measures of the costume's body. */
export function Blocks({ state, actions }: { state: CostumeState; actions: CostumeActions }) {
  const open = useSheets((s) => s.open === "blocks");
  const recipes = useRecipes();
  const close = () => useSheets.setState({ open: null });
  const lay = (recipe: string) => {
    const at = besideAll(state);
    actions.edit({ do: "add-block", recipe, at });
    close();
    desk.take("pick");
    window.setTimeout(desk.fitAll, 400);
  };
  return (
    <Dialog.Root open={open} onOpenChange={(on) => !on && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-1/2 left-1/2 z-50 max-h-[86vh] w-[760px] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-xl border border-edge bg-card p-5 shadow-xl outline-none" data-blocks>
          <Dialog.Title className="mb-1 font-heading font-semibold text-[17px]">Lay a block</Dialog.Title>
          <p className="mb-3 text-ink-soft">Drafted from the measures of the body, sewn and placed; it follows the body until you change it by hand.</p>
          <div className="grid grid-cols-3 gap-2">
            {recipes.data?.map((r) => (
              <button key={r.key} type="button" data-block={r.key} onClick={() => lay(r.key)} className="rounded-lg border border-edge bg-sheet px-3 py-2 text-left hover:border-ink hover:bg-tape/40">
                <img src={`/api/recipes/${r.key}/picture`} alt="" loading="lazy" className="mb-1.5 h-[74px] w-full object-contain" />
                <span className="font-heading font-semibold text-[14px]">{r.name}</span>
                <span className="block text-[12px] text-ink-soft leading-snug">{r.help}</span>
              </button>
            ))}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
