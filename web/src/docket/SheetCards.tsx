import { useState } from "react";
import { saidOf } from "../api/http";
import type { MeshCheck } from "../api/types";
import { readMesh } from "../check/api";
import { Button } from "../ui/Button";
import { type Downloaded, download } from "../ui/download";
import { notify } from "../ui/notices";
import { Card, Row } from "./Card";

/** All that the fitting found, on paper or as a file. */
export function SheetCard({ id }: { id: number }) {
  const [done, setDone] = useState<Downloaded | null>(null);
  const fetchSheet = async (ending: "pdf" | "json") => {
    try {
      setDone(await download(`/api/costumes/${id}/sheet/${ending}`));
    } catch (error) {
      notify(saidOf(error, { item: "Fitting sheet", reason: "could not be made", remedy: "Drape the costume and try again" }));
    }
  };
  return (
    <Card title="Fitting sheet">
      <div className="flex gap-2">
        <Button className="flex-1" data-sheet="pdf" onClick={() => void fetchSheet("pdf")}>
          PDF
        </Button>
        <Button className="flex-1" data-sheet="json" onClick={() => void fetchSheet("json")}>
          JSON
        </Button>
      </div>
      {done && (
        <p className="mt-2 flex justify-between gap-2 text-moss" data-delivered={done.name}>
          <span className="truncate">{done.name}</span> <span className="figures">{(done.size / 1024).toFixed(0)} KB</span>
        </p>
      )}
    </Card>
  );
}

/** A share of the middle as what it is more or less, in percent. */
const percent = (share: number) => `${share < 1 ? "−" : "+"}${Math.abs(100 * (share - 1)).toFixed(1)} %`;

/** What the mesh is like that would be delivered. */
export function MeshCard({ id }: { id: number }) {
  const [found, setFound] = useState<MeshCheck | null>(null);
  const [busy, setBusy] = useState(false);
  const look = async () => {
    setBusy(true);
    try {
      setFound(await readMesh(id));
    } catch (error) {
      notify(saidOf(error, { item: "Mesh", reason: "could not be looked at", remedy: "Drape the costume and try again" }));
    }
    setBusy(false);
  };
  return (
    <Card title="Mesh">
      {found && (
        <div data-mesh={found.triangles}>
          <Row name="Vertices, triangles" value={`${found.vertices}, ${found.triangles}`} />
          <Row name="Parts" value={found.parts.length} />
          <Row name="Edges" value={`${found.edges[0].toFixed(1)} to ${found.edges[2].toFixed(1)} mm`} />
          <Row name="Angles" value={`${found.angles[0].toFixed(0)}° to ${found.angles[1].toFixed(0)}°`} />
          <Row name="Open edges" value={found.open_edges} />
          {found.layout && (
            <>
              <Row name="Layout" value={`${found.layout.islands} islands`} />
              <Row name="Its scale" value={`${percent(found.layout.density[0])} to ${percent(found.layout.density[1])}`} />
              <Row name="Stretched in it" value={`up to ${found.layout.distortion.toFixed(2)} times`} />
            </>
          )}
          {found.passed.map((words) => (
            <p key={words} className="text-brick">
              {words}
            </p>
          ))}
          {found.passed.length === 0 && <p className="text-moss">Nothing is doubled, loose, turned over or only touching.</p>}
        </div>
      )}
      <Button className="mt-1 w-full" data-read-mesh disabled={busy} onClick={() => void look()}>
        {found ? "Look again" : "Look at the mesh"}
      </Button>
    </Card>
  );
}
