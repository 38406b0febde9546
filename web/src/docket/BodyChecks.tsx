interface Props {
  bodies: { key: string; name: string }[];
  /** Keys of those that are chosen. */
  chosen: string[];
  /** No more than so many can be chosen. */
  most?: number;
  /** The attribute by which a box is found, such as `data-wearer`. */
  mark: `data-${string}`;
  onChange: (chosen: string[]) => void;
}

/** A box for each of many bodies, by their names. */
export function BodyChecks({ bodies, chosen, most = Number.POSITIVE_INFINITY, mark, onChange }: Props) {
  return bodies.map(({ key, name }) => {
    const checked = chosen.includes(key);
    return (
      <label key={key} className="flex min-w-0 items-center gap-2 py-0.5">
        <input
          type="checkbox"
          {...{ [mark]: key }}
          checked={checked}
          disabled={!checked && chosen.length >= most}
          onChange={(e) => onChange(e.target.checked ? [...chosen, key] : chosen.filter((k) => k !== key))}
        />
        <span className="truncate">{name}</span>
      </label>
    );
  });
}
