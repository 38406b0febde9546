import type { Said } from "./said";

/** An answer that names what is wrong and how to remedy it. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly refusal: Said,
  ) {
    super(`${refusal.item}: ${refusal.reason}. ${refusal.remedy}.`);
  }
}

/** The server or its database cannot be reached, or failed by itself: what was sent is kept and sent again. */
export const isAway = (error: unknown) => !(error instanceof Refused) || error.status >= 500;

/** What is said of an error: why it was refused, or something else while the server does not answer. */
export const saidOf = (error: unknown, otherwise: Said): Said => (error instanceof Refused && !isAway(error) ? error.refusal : otherwise);

async function answer(response: Response): Promise<unknown> {
  const text = await response.text();
  if (response.ok) return text ? JSON.parse(text) : null;
  let body: { refusal?: Said } = {};
  try {
    body = JSON.parse(text);
  } catch {
    body = {};
  }
  const refusal = body.refusal ?? { item: "Server", reason: text || `answered ${response.status}`, remedy: "Try again" };
  throw new Refused(response.status, refusal);
}

export async function get<T>(path: string): Promise<T> {
  return (await answer(await fetch(path))) as T;
}

export async function post<T>(path: string, body?: unknown, method = "POST"): Promise<T> {
  const sent: RequestInit = { method };
  if (body !== undefined) {
    sent.headers = { "content-type": "application/json" };
    sent.body = JSON.stringify(body);
  }
  return (await answer(await fetch(path, sent))) as T;
}

/** Sends a file as it is. */
export async function postFile<T>(path: string, file: File): Promise<T> {
  return (await answer(await fetch(path, { method: "POST", headers: { "content-type": "application/octet-stream" }, body: file }))) as T;
}
