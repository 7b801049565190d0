/** The colours that initials can stand on, as hues of OKLCH in degrees: so far apart that neighbours are told from each other. */
export const HUES = [255, 300, 345, 30, 75, 120, 165, 210] as const;

/**
 * The colour of somebody who has chosen none: the same for a name everywhere, as a place in {@link HUES}.
 *
 * @example hueOf("rosa") // from 0 to 7
 */
export function hueOf(name: string): number {
  let hash = 0;
  for (const character of name) hash = (hash * 31 + (character.codePointAt(0) ?? 0)) % 1_000_003;
  return hash % HUES.length;
}
