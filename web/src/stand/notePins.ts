import * as THREE from "three";
import type { Note, NoteId, PieceSpan } from "../api/types";
import { token } from "../ui/token";
import { clearFlags, flagSprite, SMALL_FLAG } from "./marks";

/** Where a note lies on the cloth: corners of a triangle and their shares. */
interface Place {
  corners: [number, number, number];
  shares: [number, number, number];
}

/** Flags of the notes that are open, on the cloth at the places that they are pinned to. */
export class NotePins {
  readonly group = new THREE.Group();
  private notes: Note[] = [];
  private places = new Map<NoteId, Place>();

  /** Pins the notes to cloth whose flat coordinates (m) are its texture coordinates. */
  show(notes: Note[], cloth: THREE.BufferGeometry, spans: PieceSpan[]) {
    clearFlags(this.group);
    this.notes = notes;
    this.places.clear();
    notes.forEach((note, k) => {
      const span = spans.find((s) => s.piece === note.piece);
      const place = span && placeOn(cloth, span, note.at.x / 1000, note.at.y / 1000);
      if (!place) return;
      this.places.set(note.id, place);
      const flag = flagSprite(noteLetter(k), token("moss"), SMALL_FLAG);
      flag.userData.note = note.id;
      this.group.add(flag);
    });
    this.follow(cloth);
  }

  /** The cloth lies elsewhere. */
  follow(cloth: THREE.BufferGeometry) {
    for (const flag of this.group.children) {
      const at = this.at(flag.userData.note as NoteId, cloth);
      if (at) flag.position.copy(at);
    }
  }

  /** Where a note is, m. */
  at(note: NoteId, cloth: THREE.BufferGeometry): THREE.Vector3 | null {
    const place = this.places.get(note);
    const position = cloth.getAttribute("position");
    if (!place || !position) return null;
    const at = new THREE.Vector3();
    place.corners.forEach((v, k) => at.addScaledVector(new THREE.Vector3().fromBufferAttribute(position, v), place.shares[k] ?? 0));
    return at;
  }

  get shown() {
    return this.notes;
  }
}

/** Notes are lettered as they are listed. */
export const noteLetter = (k: number) => String.fromCharCode(65 + (k % 26));

/** The triangle of a piece that holds a flat place, or the one whose middle is nearest. */
function placeOn(cloth: THREE.BufferGeometry, span: PieceSpan, x: number, y: number): Place | null {
  const [index, flat] = [cloth.getIndex(), cloth.getAttribute("uv")];
  if (!index || !flat) return null;
  let nearest: { away: number; corners: Place["corners"] } | null = null;
  for (let t = span.first_triangle; t < span.first_triangle + span.triangles; t++) {
    const corners: Place["corners"] = [index.getX(3 * t), index.getX(3 * t + 1), index.getX(3 * t + 2)];
    const [ax, ay, bx, by, cx, cy] = corners.flatMap((v) => [flat.getX(v) - x, flat.getY(v) - y]) as [number, number, number, number, number, number];
    const [u, v, w] = [bx * cy - by * cx, cx * ay - cy * ax, ax * by - ay * bx];
    const whole = u + v + w;
    const shares: Place["shares"] = [u / whole, v / whole, w / whole];
    if (whole !== 0 && shares.every((s) => s >= -1e-6)) return { corners, shares };
    const away = Math.hypot(ax + bx + cx, ay + by + cy);
    if (!nearest || away < nearest.away) nearest = { away, corners };
  }
  return nearest && { corners: nearest.corners, shares: [1 / 3, 1 / 3, 1 / 3] };
}
