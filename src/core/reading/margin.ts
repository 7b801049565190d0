/** A card that wants to stand beside its line. Pixels from the top of the manuscript. */
export interface Card {
  id: string;
  wants: number;
  height: number;
}

/**
 * Places cards one under the other, each as near below its line as those above it allow. Cards are taken in the order of their lines;
 * equal ones in the order given. The one that is `attended` to stands right at its line: those above it make room upwards, as far as the
 * page goes. Gives the top of each.
 */
export function placeCards(cards: readonly Card[], gap: number, attended: string | null = null): Map<string, number> {
  const sorted = [...cards].sort((a, b) => a.wants - b.wants);
  const at = sorted.findIndex(({ id }) => id === attended);
  const tops = downwards(sorted, gap, Number.NEGATIVE_INFINITY);
  if (at < 0) return tops;
  // What stands above needs at least this much room from the top of the page.
  const needed = sorted.slice(0, at).reduce((sum, { height }) => sum + height + gap, 0);
  const top = Math.max(sorted[at].wants, Math.min(needed, tops.get(sorted[at].id)!));
  tops.set(sorted[at].id, top);
  let limit = top;
  for (let i = at - 1; i >= 0; i--) {
    const { id, height } = sorted[i];
    tops.set(id, Math.min(tops.get(id)!, limit - gap - height));
    limit = tops.get(id)!;
  }
  const below = downwards(sorted.slice(at + 1), gap, top + sorted[at].height + gap);
  return new Map([...tops, ...below]);
}

function downwards(sorted: readonly Card[], gap: number, from: number): Map<string, number> {
  const tops = new Map<string, number>();
  let free = from;
  for (const { id, wants, height } of sorted) {
    const top = Math.max(wants, free);
    tops.set(id, top);
    free = top + height + gap;
  }
  return tops;
}
