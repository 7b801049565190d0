import { type Odd, oddCharacters } from "@/core/cautions/characters";

const MEANS: Record<Odd, string> = {
  hidden: "a character that does not show",
  direction: "turns the direction of the text",
  control: "a control character",
  space: "looks like a space and is none",
  letter: "a letter of another script",
};

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
      <span key={start} className={`odd odd-${kind}`} data-code={code} title={`${code}: ${MEANS[kind]}`}>
        {text.slice(start, at)}
      </span>,
    );
  }
  if (at < text.length) parts.push(text.slice(at));
  return parts;
}
