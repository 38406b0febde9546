import { create } from "zustand";

/** Whether this browser draws 3D with the processor that also simulates, so that moving pictures must be frugal. */
export function drawsInSoftware(): boolean {
  const gl = document.createElement("canvas").getContext("webgl2");
  const info = gl?.getExtension("WEBGL_debug_renderer_info");
  const name = gl && info ? String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
  gl?.getExtension("WEBGL_lose_context")?.loseContext();
  return /swiftshader|llvmpipe|software|basic render/i.test(name);
}

/** How pictures are drawn: pixel ratio, shortest time between two of them in ms, and whether in full. */
export interface Quality {
  ratio: number;
  interval: number;
  full: boolean;
}

const KEPT = "ourlet.pictures";

/** Whether the designer asked for plain pictures in this browser. */
export const plainWanted = () => localStorage.getItem(KEPT) === "plain";

/** Whether pictures are plain; stands that are open follow it. */
export const usePlain = create(() => ({ plain: plainWanted() }));

/** From plain pictures to full ones or back, also the next time. */
export function togglePlain() {
  const plain = !plainWanted();
  if (plain) localStorage.setItem(KEPT, "plain");
  else localStorage.removeItem(KEPT);
  usePlain.setState({ plain });
}

/** `plain` pictures are frugal while they stand still too. */
export function quality(software: boolean, moving: boolean, plain: boolean): Quality {
  const ratio = Math.min(window.devicePixelRatio, 2);
  if (!software) return { ratio: plain ? Math.min(ratio, 1) : ratio, interval: 0, full: !plain };
  // a still picture is drawn once, twice as fine, in place of multisampling
  return moving || plain ? { ratio: 0.7, interval: 38, full: false } : { ratio: 2, interval: 0, full: true };
}
