import { useSyncExternalStore } from "react";
import { Desk } from "./desk/Desk";
import { Rail } from "./rail/Rail";
import { Notices } from "./ui/Notices";

function subscribe(changed: () => void) {
  window.addEventListener("popstate", changed);
  return () => window.removeEventListener("popstate", changed);
}

/** Goes to another place of the application without loading the page. */
export function go(path: string) {
  window.history.pushState(null, "", path);
  window.dispatchEvent(new PopStateEvent("popstate"));
}

export function App() {
  const path = useSyncExternalStore(subscribe, () => window.location.pathname);
  const costume = /^\/costume\/(\d+)$/.exec(path);
  return (
    <>
      {costume ? <Desk key={costume[1]} id={Number(costume[1])} /> : <Rail />}
      <Notices />
    </>
  );
}
