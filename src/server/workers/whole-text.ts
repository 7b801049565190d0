import { isBinary, readText } from "@/core/diff/text";
import { languageOf } from "@/core/grammar/languages";
import type { Syntax } from "@/core/grammar/syntax";
import { grammars, parseWhole } from "./grammars/grammars";

/** Gives the bytes of a blob; null for one that is too large to be read. */
export type Load = (id: string) => Promise<Buffer | null>;

/** A text whole, without the ends of its lines, and as its grammar reads it: null where its language is not known, or it is too long. */
export interface WholeText {
  lines: string[];
  syntax: Syntax | null;
}

/** Reads a blob as text, in the language that its path and its first lines tell; null for what is no text. */
export async function wholeText(path: string, id: string | null | undefined, load: Load): Promise<WholeText | null> {
  const blob = id ? await load(id) : null;
  if (!blob || isBinary(blob)) return null;
  const lines = readText(blob).lines.map((line) => line.replace(/\r$/, ""));
  const language = languageOf(path, lines);
  if (language) await grammars([language.id]);
  return { lines, syntax: language && parseWhole(language, `${lines.join("\n")}\n`) };
}
