import type { Definition } from "@/core/definitions/definition";
import { definitionsIn } from "@/core/definitions/definitions";
import { importsOf, type MentionKind, MOST_MENTIONS, mentionsIn } from "@/core/definitions/mentions";
import { outlineIn } from "@/core/definitions/outline";
import type { OutlinedView } from "@/core/views/around-view";
import { type Load, wholeText } from "./whole-text";

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
}

export interface Mentions {
  files: MentionedIn[];
  imports: string[];
  /** There are more in one of the files than are told. */
  more: boolean;
}

const MOST_LINES = 40;
const MOST_OUTLINED = 5_000;
/** So many definitions of one name are told of one file. */
const MOST_DEFINED = 100;
const LONGEST = 240;

/** What a text is made of, in order, as JSON of an `OutlinedView`. */
export async function outlineOf(path: string, id: string, load: Load): Promise<string> {
  const read = await wholeText(path, id, load);
  const outline: OutlinedView = (read ? outlineIn(path, read.lines, read.syntax) : [])
    .slice(0, MOST_OUTLINED)
    .map((part) => ({ ...part, line: part.line + 1, start: part.start + 1 }));
  return JSON.stringify(outline);
}

/** Where a name is defined and mentioned in some files, read whole. */
export async function mentionsOf({ name, files, asking }: Omit<MentionsTask, "folder">, load: Load): Promise<Mentions> {
  const result: Mentions = { files: [], imports: [], more: false };
  for (const { path, id } of files) {
    const read = await wholeText(path, id, load);
    if (!read) continue;
    const { lines, syntax } = read;
    if (syntax && asking?.path === path) result.imports = importsOf(syntax, name, asking.of);
    const cut = (line: string) => line.slice(0, LONGEST);
    const own = (syntax ? definitionsIn(syntax) : []).filter((definition) => definition.name === name);
    const places = mentionsIn(lines, name, syntax);
    result.more ||= own.length > MOST_DEFINED || places.length === MOST_MENTIONS;
    result.files.push({
      path,
      definitions: own.slice(0, MOST_DEFINED).map((definition) => {
        const first = withComment(lines, definition.start);
        return {
          ...definition,
          first,
          text: lines.slice(first, Math.min(definition.end, first + MOST_LINES)).map(cut),
        };
      }),
      places: places.map((place) => ({ ...place, text: cut(lines[place.line]) })),
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
