import { useEffect } from "react";
import { isTyping } from "../ui/typing";
import type { Scene } from "./command";
import { COMMANDS } from "./registry";

/** Whether a pressed key is that of a command. */
export function matches(e: KeyboardEvent, key: string): boolean {
  const words = key.split(" ");
  const name = words[words.length - 1] ?? "";
  const arrow = words.includes("Arrow");
  const wanted = arrow ? `arrow${name}` : name.toLowerCase();
  const [ctrl, shift] = [words.includes("Ctrl"), words.includes("Shift")];
  if (e.key.toLowerCase() !== wanted || (e.ctrlKey || e.metaKey) !== ctrl || e.altKey) return false;
  // signs such as ? are typed with Shift on some keyboards
  return /^[a-z]$|^tab$|^enter$|^arrow/.test(wanted) ? e.shiftKey === shift : true;
}

/** Runs the command whose key is pressed. Typing in a field, an open menu or a dialog never does. */
export function useCommandKeys(scene: Scene | null) {
  useEffect(() => {
    if (!scene) return;
    const onKey = (e: KeyboardEvent) => {
      if (isTyping(e)) return;
      const found = COMMANDS.find((c) => c.key !== undefined && matches(e, c.key) && (c.enabled?.(scene) ?? true));
      if (!found) return;
      e.preventDefault();
      found.run(scene);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [scene]);
}
