/** Pictures that lie on surfaces, by their addresses: fetched once, however many frames name them. */
import { asServerError } from "./client";

const LIMIT_BYTES = 200_000_000;
const kept = new Map<string, ImageBitmap>();
const coming = new Map<string, Promise<ImageBitmap>>();
let bytes = 0;

const sizeOf = (picture: ImageBitmap) => picture.width * picture.height * 4;

function keep(address: string, picture: ImageBitmap) {
  kept.set(address, picture);
  bytes += sizeOf(picture);
  for (const [other, oldest] of kept) {
    if (bytes <= LIMIT_BYTES || other === address) break;
    // What is drawn of it may still be on its way to the graphics card, so it is not closed.
    kept.delete(other);
    bytes -= sizeOf(oldest);
  }
}

async function ask(address: string): Promise<ImageBitmap> {
  const response = await fetch(address);
  if (!response.ok)
    throw asServerError(await response.json().catch(() => undefined), response.status);
  // As it stands in the file, and the first row below, as textures have it.
  const picture = await createImageBitmap(await response.blob(), {
    imageOrientation: "flipY",
    premultiplyAlpha: "none",
    colorSpaceConversion: "none",
  });
  keep(address, picture);
  return picture;
}

/** @throws ServerError */
export function pictureOf(address: string): Promise<ImageBitmap> {
  const found = kept.get(address);
  if (found) {
    kept.delete(address);
    kept.set(address, found);
    return Promise.resolve(found);
  }
  const known = coming.get(address);
  if (known) return known;
  const asked = ask(address).finally(() => coming.delete(address));
  coming.set(address, asked);
  return asked;
}
