import { Desk } from "./desk/Desk";
import { usePlace } from "./place";
import { Rail } from "./rail/Rail";
import { Notices } from "./ui/Notices";

export function App() {
  const path = usePlace();
  const costume = /^\/costume\/(\d+)$/.exec(path);
  return (
    <>
      {costume ? <Desk key={costume[1]} id={Number(costume[1])} /> : <Rail />}
      <Notices />
    </>
  );
}
