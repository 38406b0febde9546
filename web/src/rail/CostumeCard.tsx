import { MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { go } from "../place";
import type { RailCostume } from "../api/types";
import { FlatPicture } from "./FlatPicture";

interface Props {
  costume: RailCostume;
  onRename: () => void;
  onDuplicate: () => void;
  onRemove: () => void;
}

const count = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;

/** What hangs in place of a costume whose document this build cannot read. */
function Unreadable() {
  return (
    <div className="grid h-full place-items-center px-4 text-center text-brick" data-unreadable>
      This costume cannot be read by this build. Nothing of it is lost; open it with the build that wrote it.
    </div>
  );
}

/** A costume hanging on the rail. */
export function CostumeCard({ costume, onRename, onDuplicate, onRemove }: Props) {
  // the drape on the stand when it is newer than the last fitting
  const picture = costume.draped_at !== null ? `/api/costumes/${costume.id}/picture?${costume.draped_at}` : costume.fitting !== null ? `/api/fittings/${costume.fitting}/picture` : null;
  return (
    <article data-costume={costume.id} className="group relative w-[208px] pt-6">
      <svg aria-hidden viewBox="0 0 208 30" className="absolute top-0 left-0 h-[30px] w-full text-ink" fill="none" stroke="currentColor" strokeWidth={1.6}>
        <path d="M104 3.5a4 4 0 1 1 4 6.2q-4 1.5-4 6.3L58 29M104 16l46 13" />
      </svg>
      <button
        type="button"
        onClick={() => go(`/costume/${costume.id}`)}
        className="block w-full overflow-hidden rounded-lg border border-edge bg-card text-left shadow-sm transition-transform duration-150 group-hover:-translate-y-0.5 group-hover:shadow-md"
      >
        <div className="h-[268px] bg-sheet">
          {costume.unreadable ? (
            <Unreadable />
          ) : picture === null ? (
            <FlatPicture picture={costume.flat} />
          ) : (
            <img src={picture} alt={`${costume.name}, last drape`} className="h-full w-full object-cover" />
          )}
        </div>
        <div className="border-edge border-t px-3 py-2.5 pr-9">
          <div className="truncate font-heading font-semibold text-[15px]">{costume.name}</div>
          <div className="text-ink-soft">
            {count(costume.pieces, "piece")} · {costume.seams === 0 ? "not joined" : count(costume.seams, "seam")}
          </div>
        </div>
      </button>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label={`More for ${costume.name}`} className="absolute right-2 bottom-3 rounded p-1 text-ink-soft hover:bg-paper">
          <MoreHorizontal size={17} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="z-40 min-w-[150px] rounded-lg border border-edge bg-card p-1 shadow-lg">
            {[
              ["Open", () => go(`/costume/${costume.id}`)] as const,
              ["Rename…", onRename] as const,
              ["Duplicate", onDuplicate] as const,
              ["Take off the rail", onRemove] as const,
            ].map(([name, run]) => (
              <DropdownMenu.Item key={name} onSelect={run} className="cursor-pointer rounded px-3 py-1.5 outline-none data-[highlighted]:bg-tape">
                {name}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </article>
  );
}
