import skeletonOf from "unhomoglyph";

/** What a text looks like: its skeleton of Unicode Technical Standard 39, as far as single characters make it. */
export function skeleton(text: string): string {
  const plain = text.normalize("NFD");
  return skeletonOf(plain).normalize("NFD");
}

/** Whether two different texts look the same: `admin`, and `аdmin` whose first letter is Cyrillic. */
export function confusable(a: string, b: string): boolean {
  return a !== b && skeleton(a) === skeleton(b);
}
