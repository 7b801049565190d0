/**
 * The whole numbers from one on, up to another, which is left out.
 *
 * @example range(2, 5) // [2, 3, 4]
 */
export function range(from: number, to: number): number[] {
  return Array.from({ length: Math.max(0, to - from) }, (_, n) => from + n);
}
