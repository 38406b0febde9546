import type { BodyChoice, Contact, PartContact, RoughSpot, StandIn } from "../api/types";
import type { Point3 } from "./point";

/** Changes of a body choice, each leaving out what is as it was made. */

/** The angles of a body; none in the neutral pose. */
export const poseOf = (body: BodyChoice) => (body.pose ?? {}) as Record<string, Point3>;

export function withPose(body: BodyChoice, pose: Record<string, Point3>): BodyChoice {
  const { pose: _, ...rest } = body;
  const turned = Object.entries(pose).filter(([, angles]) => angles.some((a) => a !== 0));
  return turned.length > 0 ? { ...rest, pose: Object.fromEntries(turned.sort(([a], [b]) => (a < b ? -1 : 1))) } : rest;
}

export function withAngle(body: BodyChoice, bone: string, freedom: number, degrees: number): BodyChoice {
  const angles: Point3 = [...(body.pose?.[bone] ?? [0, 0, 0])] as Point3;
  angles[freedom] = degrees;
  return withPose(body, { ...poseOf(body), [bone]: angles });
}

/** The name of the bone on the other side, or the same. */
export const otherSide = (bone: string) => (bone.endsWith("-left") ? bone.replace(/left$/, "right") : bone.endsWith("-right") ? bone.replace(/right$/, "left") : bone);

/** The pose seen in a mirror. */
export function mirrored(pose: Record<string, Point3>): Record<string, Point3> {
  return Object.fromEntries(Object.entries(pose).map(([bone, [bend, side, turn]]) => (otherSide(bone) === bone ? [bone, [bend, -side, -turn]] : [otherSide(bone), [bend, side, turn]]))) as Record<string, Point3>;
}

export const samePose = (a: Record<string, Point3> = {}, b: Record<string, Point3> = {}) => {
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((k) => [0, 1, 2].every((i) => Math.abs((a[k]?.[i] ?? 0) - (b[k]?.[i] ?? 0)) < 1e-6));
};

function withContact(body: BodyChoice, contact: Contact): BodyChoice {
  const { contact: _, ...rest } = body;
  const { parts = {}, shapes = [], rough = [] } = contact;
  const kept: Contact = { ...(Object.keys(parts).length > 0 ? { parts } : {}), ...(shapes.length > 0 ? { shapes } : {}), ...(rough.length > 0 ? { rough } : {}) };
  return Object.keys(kept).length > 0 ? { ...rest, contact: kept } : rest;
}

/** `null` lets the part be met as usual again. */
export function withPart(body: BodyChoice, key: string, part: PartContact | null): BodyChoice {
  const { [key]: _, ...others } = body.contact?.parts ?? {};
  return withContact(body, { ...body.contact, parts: part ? { ...others, [key]: part } : others });
}

export function withShape(body: BodyChoice, index: number, shape: StandIn | null): BodyChoice {
  const shapes = [...(body.contact?.shapes ?? [])];
  if (shape) shapes[index] = shape;
  else shapes.splice(index, 1);
  return withContact(body, { ...body.contact, shapes });
}

export const withRough = (body: BodyChoice, rough: RoughSpot[]): BodyChoice => withContact(body, { ...body.contact, rough });
