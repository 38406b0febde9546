import type { Refusal } from "./types";

/** What a notice says: the words of a refusal, whether the server or this page found them. */
export type Said = Pick<Refusal, "item" | "reason" | "remedy">;
