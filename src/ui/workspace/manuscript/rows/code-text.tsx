import type { ReactNode } from "react";
import { type Odd, oddCharacters } from "@/core/cautions/characters";
import { stretchesOf } from "@/core/plain/right-to-left";

const MEANS: Record<Odd, string> = {
  hidden: "a character that does not show",
  direction: "turns the direction of the text",
  control: "a control character",
  space: "looks like a space and is none",
  letter: "a letter of another script",
};

/**
 * A piece of code with its odd characters drawn as what they are. Each stays in the text, isolated, so that what is selected and counted is
 * what the file holds. Words that are written from right to left take nothing else along.
 */
export function CodeText({ text, whole = true }: { text: string; whole?: boolean }) {
  const places = oddCharacters(text, whole);
  if (places.length === 0) return <InOrder text={text} />;
  const parts: ReactNode[] = [];
  let at = 0;
  for (const { at: start, length, code, kind } of places) {
    if (start > at) parts.push(<InOrder key={at} text={text.slice(at, start)} />);
    at = start + length;
    parts.push(
      <span key={start} className={`odd odd-${kind}`} data-code={code} title={`${code}: ${MEANS[kind]}`}>
        {text.slice(start, at)}
      </span>,
    );
  }
  if (at < text.length) parts.push(<InOrder key={at} text={text.slice(at)} />);
  return parts;
}

/** What is code, in the order in which the file holds it. */
function InOrder({ text }: { text: string }) {
  const parts = stretchesOf(text);
  if (!parts.some(({ isRightToLeft }) => isRightToLeft)) return text;
  // biome-ignore lint/suspicious/noArrayIndexKey: stretches have no other name
  return parts.map(({ text, isRightToLeft }, n) => (isRightToLeft ? <bdi key={n}>{text}</bdi> : text));
}
