/** A place on the stand or a triple of angles, by axis. */
export type Point3 = [number, number, number];
