import { COLOUR_CLASSES } from "../views/api";
import { segmentLine } from "./segments";

/** A name that stands in a line; columns are 0-based UTF-16 units, the end exclusive. */
export interface NameInLine {
  name: string;
  from: number;
  to: number;
  /** What it is a part of, where a name stands before it with a dot or the like between; "" where that is something else. */
  of: string | null;
}

const NAME = /(?<![\p{L}\p{N}\p{M}_$])[\p{L}_$][\p{L}\p{N}\p{M}_$]*/gu;
const PART = /([\p{L}_$][\p{L}\p{N}\p{M}_$]*)?(?:\?\.|\.|->|::)$/u;
/** Words that are written like names and mean the same everywhere. */
const VALUES: ReadonlySet<string> = new Set(
  "true false null undefined nil None True False this self super void nullptr".split(" "),
);
/** Colours of what holds no names. */
const NO_NAMES: ReadonlySet<string> = new Set(["keyword", "string", "comment"]);

/**
 * The names of a line in order. `runs` are its colours, as {@link segmentLine} takes them: keywords, texts and comments hold none; without
 * colours every word is one.
 */
export function namesInLine(text: string, runs: readonly number[]): NameInLine[] {
  const names: NameInLine[] = [];
  const colourAt = coloursOf(text, runs);
  for (const { 0: name, index } of text.matchAll(NAME)) {
    if (VALUES.has(name) || NO_NAMES.has(COLOUR_CLASSES[colourAt(index)])) continue;
    const part = PART.exec(text.slice(0, index));
    names.push({ name, from: index, to: index + name.length, of: part ? (part[1] ?? "") : null });
  }
  return names;
}

function coloursOf(text: string, runs: readonly number[]): (at: number) => number {
  const segments = segmentLine(text, runs, []);
  let segment = 0;
  let end = segments[0]?.text.length ?? 0;
  return (at) => {
    while (at >= end && segment < segments.length - 1) end += segments[++segment].text.length;
    return segments[segment]?.colour ?? 0;
  };
}
