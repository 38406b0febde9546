import * as THREE from "three";
import { token } from "../ui/token";

/** A picture drawn once on a small canvas, for points and sprites. */
export function drawn(size: number, draw: (g: CanvasRenderingContext2D) => void): THREE.Texture {
  const c = document.createElement("canvas");
  c.width = size;
  c.height = size;
  const g = c.getContext("2d");
  if (g) draw(g);
  const texture = new THREE.CanvasTexture(c);
  texture.colorSpace = THREE.SRGBColorSpace;
  return texture;
}

/** The head of a pin or of a hand that holds cloth. */
export function headTexture(): THREE.Texture {
  return drawn(32, (g) => {
    g.fillStyle = token("white");
    g.strokeStyle = "#00000066";
    g.lineWidth = 3;
    g.beginPath();
    g.arc(16, 16, 13, 0, 7);
    g.fill();
    g.stroke();
  });
}

/** Size of one flag among many, as a share of the distance. */
export const SMALL_FLAG = 0.022;

/** A round flag with a sign in it; its size is a share of the distance. */
export function flagSprite(sign: string, colour: string, size = 0.035): THREE.Sprite {
  const map = drawn(64, (g) => {
    g.fillStyle = colour;
    g.beginPath();
    g.arc(32, 32, 29, 0, 7);
    g.fill();
    g.strokeStyle = token("card");
    g.lineWidth = 4;
    g.stroke();
    g.fillStyle = token("card");
    g.font = "600 32px 'IBM Plex Mono'";
    g.textAlign = "center";
    g.textBaseline = "middle";
    g.fillText(sign, 32, 34);
  });
  const sprite = new THREE.Sprite(new THREE.SpriteMaterial({ map, depthTest: false, sizeAttenuation: false }));
  sprite.scale.setScalar(size);
  sprite.renderOrder = 10;
  return sprite;
}

/** Takes all flags of a group down. */
export function clearFlags(group: THREE.Group) {
  for (const flag of group.children) {
    if (!(flag instanceof THREE.Sprite)) continue;
    flag.material.map?.dispose();
    flag.material.dispose();
  }
  group.clear();
}
