/** Longest side of a picture that is taken as a map, px. */
const SIDE = 512;

/** A picture of any kind that the browser reads, as a PNG in base64 of no more pixels than a map has. */
export async function greyPicture(file: File): Promise<string> {
  const picture = await createImageBitmap(file);
  const scale = Math.min(1, SIDE / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(picture.width * scale));
  canvas.height = Math.max(1, Math.round(picture.height * scale));
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  return canvas.toDataURL("image/png").replace(/^[^,]*,/, "");
}

/** Gives a map out as a file. */
export function saveMap(image: string, name: string) {
  const link = document.createElement("a");
  link.href = `data:image/png;base64,${image}`;
  link.download = `${name}.png`;
  link.click();
}
