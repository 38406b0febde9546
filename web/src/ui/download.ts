import { Refused } from "../api/http";
import type { Said } from "../api/said";

/** A file that the designer has. */
export interface Downloaded {
  name: string;
  size: number;
}

/** Hands bytes to the designer as a file. */
function save(name: string, bytes: Blob) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(bytes);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Fetches a file and saves it under the name that the server gives it. */
export async function download(path: string): Promise<Downloaded> {
  const response = await fetch(path);
  if (!response.ok) {
    const answer = (await response.json().catch(() => null)) as { refusal?: Said } | null;
    throw new Refused(response.status, answer?.refusal ?? { item: "Delivery", reason: "could not be made", remedy: "Try again" });
  }
  const name = /filename="([^"]+)"/.exec(response.headers.get("content-disposition") ?? "")?.[1] ?? "delivery";
  const bytes = await response.blob();
  save(name, bytes);
  return { name, size: bytes.size };
}
