/** How two pictures of one size differ. */
export interface PixelDifference {
  /** How many pixels differ. */
  count: number;
  /** Of each pixel, row by row from the top, whether it does: 1 or 0. */
  differs: Uint8Array;
  /** The smallest rectangle that holds all of them, in pixels from the upper left; right and bottom are exclusive. Null where there are none. */
  box: { left: number; top: number; right: number; bottom: number } | null;
}

/**
 * Compares two pictures pixel by pixel. Both are bytes of red, green, blue and opacity, row by row, of the same `width` and length. What cannot be seen through at all has no colour: two such
 * pixels are the same.
 *
 * @example pixelDifference(Uint8Array.of(9, 9, 9, 255), Uint8Array.of(0, 9, 9, 255), 1).count // 1
 */
export function pixelDifference(old: ArrayLike<number>, next: ArrayLike<number>, width: number): PixelDifference {
  const differs = new Uint8Array(old.length / 4);
  let [count, left, top, right, bottom] = [0, width, 0, 0, 0];
  for (let pixel = 0; pixel < differs.length; pixel++) {
    const at = 4 * pixel;
    if (old[at + 3] === next[at + 3]) {
      const isSame = old[at] === next[at] && old[at + 1] === next[at + 1] && old[at + 2] === next[at + 2];
      if (isSame || next[at + 3] === 0) continue;
    }
    const [x, y] = [pixel % width, Math.floor(pixel / width)];
    differs[pixel] = 1;
    if (count++ === 0) top = y;
    left = Math.min(left, x);
    right = Math.max(right, x + 1);
    bottom = y + 1;
  }
  return { count, differs, box: count > 0 ? { left, top, right, bottom } : null };
}

/** Paler than it is, so that what differs stands out. */
const PALE = 0.3;

/**
 * A picture with what differs in one colour, and all else pale and grey on white: red, green, blue and opacity of each pixel.
 *
 * @param colour red, green and blue, 0 to 255
 */
export function markedPixels(
  picture: ArrayLike<number>,
  { differs }: PixelDifference,
  colour: readonly [number, number, number],
): Uint8ClampedArray<ArrayBuffer> {
  const marked = new Uint8ClampedArray(picture.length);
  for (let pixel = 0; pixel < differs.length; pixel++) {
    const at = 4 * pixel;
    const grey = (picture[at] + picture[at + 1] + picture[at + 2]) / 3;
    const pale = 255 - (255 - grey) * PALE * (picture[at + 3] / 255);
    for (let part = 0; part < 3; part++) marked[at + part] = differs[pixel] ? colour[part] : pale;
    marked[at + 3] = 255;
  }
  return marked;
}
