/** Some entries of a store's state; with a shallow comparison nothing is drawn again for the others. */
export const picked =
  <S extends object, K extends keyof S>(keys: K[]) =>
  (state: S): Pick<S, K> =>
    Object.fromEntries(keys.map((key) => [key, state[key]])) as Pick<S, K>;
