import { get, saidOf } from "../api/http";
import type { DeliverOptions, DeliveryPreview } from "../api/types";
import { create } from "zustand";
import { type Downloaded, download } from "../ui/download";
import { notify } from "../ui/notices";

/** A choice of delivery with a name of the designer's. */
export interface Preset {
  name: string;
  options: DeliverOptions;
}

const FIRST: DeliverOptions = { kind: "glb", welded: true, layout: "metres", with_body: false, unit: "m", z_up: false, faces: "triangles", smooth: 0, lighter: 100, levels: 0, thickness: 0, side: "outwards", texture: 4096, margin: 8, turn: false, baked: false };
/** Where the last choice and the named ones are kept in this browser, and how many names at most. */
const LAST = "delivery";
const PRESETS = "delivery-presets";
const MOST = 40;

function kept<T>(key: string, otherwise: T): T {
  try {
    const text = localStorage.getItem(key);
    return text ? (JSON.parse(text) as T) : otherwise;
  } catch {
    return otherwise;
  }
}

/** Choices of an earlier day may lack what came since. */
const whole = (options: Partial<DeliverOptions>): DeliverOptions => ({ ...FIRST, ...options });

interface DeliveryState {
  options: DeliverOptions;
  presets: Preset[];
  done: Downloaded[];
  busy: boolean;
}

export const useDelivery = create<DeliveryState>(() => ({
  options: whole(kept(LAST, {})),
  presets: kept<Preset[]>(PRESETS, []).map((p) => ({ name: p.name, options: whole(p.options) })),
  done: [],
  busy: false,
}));

/** The options as they are asked for. */
export const asked = (options: DeliverOptions) => new URLSearchParams(Object.entries(options).map(([k, v]) => [k, String(v)]));

const save = (key: string, value: unknown) => localStorage.setItem(key, JSON.stringify(value));

export const delivery = {
  set: (part: Partial<DeliverOptions>) =>
    useDelivery.setState((s) => {
      const options = { ...s.options, ...part };
      save(LAST, options);
      return { options };
    }),
  /** Keeps the present choice under a name; one of the same name is replaced. */
  keep: (name: string) =>
    useDelivery.setState((s) => {
      const presets = [...s.presets.filter((p) => p.name !== name), { name, options: s.options }].slice(-MOST);
      save(PRESETS, presets);
      return { presets };
    }),
  drop: (name: string) =>
    useDelivery.setState((s) => {
      const presets = s.presets.filter((p) => p.name !== name);
      save(PRESETS, presets);
      return { presets };
    }),
  /** Writes what was delivered, with the checks of the drape: by itself, since browsers ask before they take several files at once. */
  manifest: async (costume: number) => {
    try {
      await download(`/api/costumes/${costume}/deliver/garment.manifest.json?${asked(useDelivery.getState().options)}`);
    } catch (error) {
      notify(saidOf(error, { item: "Manifest", reason: "could not be made", remedy: "Drape the costume and try again" }));
    }
  },
  /** Writes all files of the present choice. */
  run: async (costume: number) => {
    if (useDelivery.getState().busy) return;
    useDelivery.setState({ busy: true });
    const query = asked(useDelivery.getState().options);
    try {
      const { files } = await get<DeliveryPreview>(`/api/costumes/${costume}/delivery?${query}`);
      // browsers ask before they take several files: what is more than one comes in an archive
      const [first = ""] = files;
      const name = files.length > 1 ? `${first.replace(/\.[^.]*$/, "")}.zip` : first;
      useDelivery.setState({ done: [await download(`/api/costumes/${costume}/deliver/${name}?${query}`)] });
    } catch (error) {
      notify(saidOf(error, { item: "Delivery", reason: "could not be made", remedy: "Drape the costume and try again" }));
    }
    useDelivery.setState({ busy: false });
  },
};
