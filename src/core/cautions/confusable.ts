import twins from "unhomoglyph/data.json" with { type: "json" };

const LOOKS = new Map(Object.entries(twins as Record<string, string>));

/** What a text looks like: its skeleton of Unicode Technical Standard 39, as far as single characters make it. */
export function skeleton(text: string): string {
  let result = "";
  for (const character of text.normalize("NFD")) result += LOOKS.get(character) ?? character;
  return result.normalize("NFD");
}

/** Whether two different texts look the same: `admin`, and `аdmin` whose first letter is Cyrillic. */
export function confusable(a: string, b: string): boolean {
  return a !== b && skeleton(a) === skeleton(b);
}
