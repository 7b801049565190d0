import { oddCharacters } from "@/core/cautions/characters";

/**
 * A piece of code with its odd characters drawn as what they are. Each stays in the text, isolated, so that what is selected and counted is
 * what the file holds.
 */
export function CodeText({ text, whole = true }: { text: string; whole?: boolean }) {
  const places = oddCharacters(text, whole);
  if (places.length === 0) return text;
  const parts: React.ReactNode[] = [];
  let at = 0;
  for (const { at: start, length, code, kind } of places) {
    if (start > at) parts.push(text.slice(at, start));
    at = start + length;
    parts.push(
      <span
        key={start}
        className={`odd odd-${kind}`}
        data-code={code}
        title={`${code}: a character that does not show`}
      >
        {text.slice(start, at)}
      </span>,
    );
  }
  if (at < text.length) parts.push(text.slice(at));
  return parts;
}
