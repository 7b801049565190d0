import { COMMENT, isKind, NAME, type Syntax, TEXT, tokenAfter, tokenText, typeOf } from "../grammar/syntax";

/** How a name stands in a text: as a name of the code, where it is brought in, in a comment, or in a text that the code holds. */
export const MENTIONS = ["code", "import", "comment", "text"] as const;
export type MentionKind = (typeof MENTIONS)[number];

/** A place where a name stands. Both 0-based, the column in UTF-16 units. */
export interface Mention {
  line: number;
  column: number;
  kind: MentionKind;
  /** It stands behind a dot or the like: as a part of something. */
  member: boolean;
}

/** Behind one dot, not behind the three that spread something. */
const MEMBER = /(?:(?<!\.\.)\.|->|::)\s?$/;

/** Whether what begins at a place of a text stands behind a dot or the like. */
export function isBehindDot(text: string, at: number): boolean {
  return MEMBER.test(text.slice(Math.max(0, at - 4), at));
}

const WORD = /[\p{L}\p{N}\p{M}_$]/u;

/** In one text so many places of a name are found: a line of megabytes may hold millions. */
export const MOST_MENTIONS = 5_000;

/** The places where a name stands as a whole word, in order, the first {@link MOST_MENTIONS}; `syntax` says how, without it all of them count as code. */
export function mentionsIn(lines: readonly string[], name: string, syntax: Syntax | null): Mention[] {
  const result: Mention[] = [];
  for (const [line, text] of lines.entries()) {
    for (let at = text.indexOf(name); at >= 0; at = text.indexOf(name, at + name.length)) {
      if (result.length === MOST_MENTIONS) return result;
      if (WORD.test(text[at - 1] ?? "") || WORD.test(text[at + name.length] ?? "")) continue;
      const kind = syntax ? kindAt(syntax, syntax.lines[line] + at) : "code";
      result.push({ line, column: at, kind, member: isBehindDot(text, at) });
    }
  }
  return result;
}

function kindAt(syntax: Syntax, place: number): MentionKind {
  const token = syntax.tokens[tokenAfter(syntax, place)];
  if (token === undefined || syntax.start[token] > place) return "code";
  if (isKind(syntax, token, COMMENT)) return "comment";
  for (let at = token, steps = 0; at > 0 && steps < 8; at = syntax.parent[at], steps++)
    if (IMPORTS.test(typeOf(syntax, at)) && syntax.depth[at + 1] > syntax.depth[at]) return "import";
  return isKind(syntax, token, TEXT) && !isKind(syntax, token, NAME) ? "text" : "code";
}

const IMPORTS = /import|^use_|^using_|(?:require|include)(?:_once)?_expression|preproc_include|^from_|namespace_use/;

/** The modules from which a text brings a name in, or what the name is a part of, as they are written there. */
export function importsOf(syntax: Syntax, name: string, of: string | null): string[] {
  const modules = new Set<string>();
  const isSought = (word: string) => word === name || word === of;
  const { depth, start, end, type } = syntax;
  let behind = -1;
  for (let node = 1; node < type.length; node++) {
    // Imports stand near the top of the tree, and what lies in one belongs to it.
    if (start[node] < behind || depth[node] > 4 || depth[node + 1] <= depth[node]) continue;
    if (!IMPORTS.test(typeOf(syntax, node))) continue;
    behind = end[node];
    const [words, texts] = wordsOf(syntax, start[node], end[node]);
    if (texts.length > 0) {
      if (words.some(isSought) || texts.some((module) => isSought(module.split(/[/.:]+/).at(-1) ?? "")))
        for (const module of texts) modules.add(module);
    } else if (words.some(isSought)) {
      const whole = syntax.text.slice(start[node], end[node]);
      const [, module] =
        /^from\s+([\w.]+)\s+import\b/.exec(whole) ?? /^\w+\s+(?:static\s+)?([\w.:\\]+)/.exec(whole) ?? [];
      if (module) modules.add(module);
    }
  }
  return [...modules];
}

/** The words of a part of a text, and the texts in it without their quotes. */
function wordsOf(syntax: Syntax, from: number, to: number): [words: string[], texts: string[]] {
  const words: string[] = [];
  const texts: string[] = [];
  for (let t = tokenAfter(syntax, from); t < syntax.tokens.length && syntax.start[syntax.tokens[t]] < to; t++) {
    const text = tokenText(syntax, t);
    if (isKind(syntax, syntax.tokens[t], TEXT)) texts.push(text.replace(/^["'<`]|["'>`]$/g, ""));
    else words.push(text);
  }
  return [words, texts];
}
