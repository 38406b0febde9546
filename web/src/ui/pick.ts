import type { StoreApi, UseBoundStore } from "zustand";
import { useShallow } from "zustand/react/shallow";

const picked =
  <S extends object, K extends keyof S>(keys: K[]) =>
  (state: S): Pick<S, K> =>
    Object.fromEntries(keys.map((key) => [key, state[key]])) as Pick<S, K>;

/** A hook that reads some entries of a store; nothing is drawn again for the others. */
export const entriesOf =
  <S extends object>(useStore: UseBoundStore<StoreApi<S>>) =>
  <K extends keyof S>(...keys: K[]) =>
    useStore(useShallow(picked<S, K>(keys)));
