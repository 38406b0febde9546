import { useSyncExternalStore } from "react";

function subscribe(changed: () => void) {
  window.addEventListener("popstate", changed);
  return () => window.removeEventListener("popstate", changed);
}

/** Goes to another place of the application without loading the page. */
export function go(path: string) {
  window.history.pushState(null, "", path);
  window.dispatchEvent(new PopStateEvent("popstate"));
}

/** The place of the application that is shown. */
export const usePlace = () => useSyncExternalStore(subscribe, () => window.location.pathname);
