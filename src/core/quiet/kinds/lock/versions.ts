/** Numbers, what makes it one before a release, and what is no part of its order. */
const VERSION = /^v?(\d{1,9}(?:\.\d{1,9}){0,5})(?:-([\w.-]+))?(?:\+[\w.-]*)?$/;

/**
 * Whether a version comes before another, by their numbers and then by what stands before a release (Semantic Versioning 2.0, 11); false where one is
 * written another way.
 *
 * @example isOlder("4.17.4", "4.17.21") // true
 */
export function isOlder(version: string, than: string): boolean {
  const [, numbers, before] = VERSION.exec(version) ?? [];
  const [, others, other] = VERSION.exec(than) ?? [];
  if (numbers === undefined || others === undefined) return false;
  const order = compareParts(numbers, others);
  if (order !== 0) return order < 0;
  if (before === undefined || other === undefined) return before !== undefined && other === undefined;
  return compareParts(before, other) < 0;
}

/** Parts between dots: numbers by their value and before words, fewer parts before more. */
function compareParts(a: string, b: string): number {
  const [left, right] = [a.split("."), b.split(".")];
  for (let n = 0; n < left.length && n < right.length; n++) {
    const [one, two] = [left[n], right[n]];
    if (one === two) continue;
    const [isNumber, isOther] = [/^\d+$/.test(one), /^\d+$/.test(two)];
    if (isNumber !== isOther) return isNumber ? -1 : 1;
    return isNumber ? Number(one) - Number(two) : one < two ? -1 : 1;
  }
  return left.length - right.length;
}
