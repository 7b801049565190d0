/**
 * The first place from 0 on, of so many, at which something holds that, where it does, holds at all later ones, too; `length` where it never does. Asks
 * the logarithm of them.
 *
 * @example firstThat(tides.length, (at) => tides[at] >= 9) // in [3, 9, 9, 12]: 1
 */
export function firstThat(length: number, holds: (at: number) => boolean): number {
  let low = 0;
  let high = length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}
