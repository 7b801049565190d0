/** A card that wants to stand beside its line. Pixels from the top of the manuscript. */
export interface Card {
  id: string;
  wants: number;
  height: number;
}

/**
 * Places cards one under the other, each as near below its line as those above it allow. Cards are taken in the order of their lines;
 * equal ones in the order given. Gives the top of each.
 */
export function placeCards(cards: readonly Card[], gap: number): Map<string, number> {
  const tops = new Map<string, number>();
  let free = Number.NEGATIVE_INFINITY;
  for (const { id, wants, height } of [...cards].sort((a, b) => a.wants - b.wants)) {
    const top = Math.max(wants, free);
    tops.set(id, top);
    free = top + height + gap;
  }
  return tops;
}
