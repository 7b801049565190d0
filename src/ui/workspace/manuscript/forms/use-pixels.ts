import { useEffect, useState } from "react";
import { type PixelDifference, pixelDifference } from "@/core/reading/forms/pixels";

/** Larger pictures are not compared: it would hold the page. */
const MOST_PIXELS = 8_000_000;

/** Two pictures of one size, held against each other. */
export interface ComparedPictures {
  width: number;
  height: number;
  difference: PixelDifference;
  /** The pixels of the later one: red, green, blue and opacity, row by row. */
  next: Uint8ClampedArray<ArrayBuffer>;
}

/** How two pictures differ as this browser draws them; of what moves, their first pictures. Null until that is known, and where they cannot be held against each other. */
export function usePixels(old: string | null, next: string | null): ComparedPictures | null {
  const [found, setFound] = useState<ComparedPictures | null>(null);
  useEffect(() => {
    setFound(null);
    if (old === null || next === null) return;
    let isWanted = true;
    compared(old, next).then(
      (answer) => isWanted && setFound(answer),
      // Both stand there all the same, or say themselves that they cannot be drawn.
      () => undefined,
    );
    return () => {
      isWanted = false;
    };
  }, [old, next]);
  return found;
}

async function compared(...addresses: [old: string, next: string]): Promise<ComparedPictures | null> {
  const [before, after] = await Promise.all(addresses.map(loaded));
  const { naturalWidth: width, naturalHeight: height } = after;
  const isAsLarge = before.naturalWidth === width && before.naturalHeight === height;
  if (!isAsLarge || width * height === 0 || width * height > MOST_PIXELS) return null;
  const next = pixelsOf(after, width, height);
  return { width, height, next, difference: pixelDifference(pixelsOf(before, width, height), next, width) };
}

async function loaded(address: string): Promise<HTMLImageElement> {
  const image = new Image();
  image.src = address;
  await image.decode();
  return image;
}

function pixelsOf(image: HTMLImageElement, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
  const canvas = Object.assign(document.createElement("canvas"), { width, height });
  const drawing = canvas.getContext("2d", { willReadFrequently: true });
  if (!drawing) throw new Error("This browser does not draw.");
  drawing.drawImage(image, 0, 0);
  return drawing.getImageData(0, 0, width, height).data as Uint8ClampedArray<ArrayBuffer>;
}
