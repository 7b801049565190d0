import type { OutlinedView } from "@/core/around-view";
import type { Definition } from "@/core/definitions/definition";
import { definitionsIn } from "@/core/definitions/definitions";
import { importsOf, type MentionKind, mentionsIn } from "@/core/definitions/mentions";
import { isBinary, readText } from "@/core/diff/text";
import { languageOf } from "@/core/grammar/languages";
import { grammars, parseWhole } from "./grammars/grammars";

/** What is looked for in some files. */
export interface MentionsTask {
  folder: string;
  name: string;
  files: { path: string; id: string }[];
  /** The file from which it is asked, and what the name is a part of there: told what brings it in. */
  asking: { path: string; of: string | null } | null;
}

/** A definition with its text: its comment, its head and some of its lines. `first` is the 0-based line that the text begins with. */
export interface ShownDefinition extends Definition {
  first: number;
  text: string[];
}

export interface MentionedIn {
  path: string;
  definitions: ShownDefinition[];
  places: { line: number; column: number; kind: MentionKind; text: string }[];
  /** Whether the grammar of its language was at hand: without it nothing is known of definitions. */
  parsed: boolean;
}

export interface Mentions {
  files: MentionedIn[];
  imports: string[];
}

const MOST_LINES = 40;
const MOST_OUTLINED = 5_000;
const LONGEST = 240;

/** What a text defines beyond its functions, in order, as JSON of an `OutlinedView`. */
export async function outlineOf(path: string, blob: Buffer | null): Promise<string> {
  const lines = blob && !isBinary(blob) ? readText(blob).lines : [];
  const language = lines.length > 0 ? languageOf(path, lines) : null;
  if (!language) return "[]";
  await grammars([language.id]);
  const syntax = parseWhole(language, `${lines.join("\n")}\n`);
  const outline: OutlinedView = (syntax ? definitionsIn(syntax) : [])
    .filter(({ scope }) => scope === null)
    .slice(0, MOST_OUTLINED)
    .map(({ name, kind, within, line, end }) => ({ name, kind, within, line: line + 1, end }));
  return JSON.stringify(outline);
}

/** Where a name is defined and mentioned in some files, read whole. */
export async function mentionsOf(
  { name, files, asking }: Omit<MentionsTask, "folder">,
  load: (id: string) => Promise<Buffer | null>,
): Promise<Mentions> {
  const result: Mentions = { files: [], imports: [] };
  for (const { path, id } of files) {
    const blob = await load(id);
    if (!blob || isBinary(blob)) continue;
    const lines = readText(blob).lines.map((line) => line.replace(/\r$/, ""));
    const language = languageOf(path, lines);
    if (language) await grammars([language.id]);
    const syntax = language ? parseWhole(language, `${lines.join("\n")}\n`) : null;
    if (syntax && asking?.path === path) result.imports = importsOf(syntax, name, asking.of);
    const cut = (line: string) => line.slice(0, LONGEST);
    result.files.push({
      path,
      definitions: (syntax ? definitionsIn(syntax) : [])
        .filter((definition) => definition.name === name)
        .map((definition) => {
          const first = withComment(lines, definition.start);
          return {
            ...definition,
            first,
            text: lines.slice(first, Math.min(definition.end, first + MOST_LINES)).map(cut),
          };
        }),
      places: mentionsIn(lines, name, syntax).map((place) => ({ ...place, text: cut(lines[place.line]) })),
      parsed: syntax !== null,
    });
  }
  return result;
}

const COMMENT_LINE = /^\s*(?:\/\/|\/\*|\*|#|--|"""|'''|;|@\w)/;
const MOST_COMMENT = 12;

/** The line at which the comment above a definition begins, or the definition itself. */
function withComment(lines: readonly string[], start: number): number {
  let first = start;
  while (first > 0 && start - first < MOST_COMMENT && COMMENT_LINE.test(lines[first - 1])) first--;
  return first;
}
