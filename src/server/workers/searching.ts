import { isBinary, readText } from "@/core/diff/text";
import { certainIn, type Finder, finderOf, mindsCapitals } from "@/core/reading/finding/finder";
import {
  type FoundPlace,
  findIn,
  foundLine,
  linesSought,
  MOST_FOUND,
  type SearchEnd,
  type SearchedFile,
  type Sought,
} from "@/core/reading/finding/search";
import { eachLineWith } from "@/git/grep";
import type { Load } from "./whole-text";

/** What is looked for in changed files. */
export interface SearchTask {
  folder: string;
  files: SearchedFile[];
  sought: Sought;
}

/** What is looked for in all files of a commit. */
export interface TreeSearchTask {
  folder: string;
  commit: string;
  sought: Sought;
}

/** So many lines of a tree are looked at. */
const MOST_LINES = 3_000_000;

/** Told of places as they are found. */
export type Told = (place: FoundPlace) => void;

/** Where something stands in changed files, in their order, up to a number. */
export async function searchFiles(
  { files, sought }: Omit<SearchTask, "folder">,
  load: Load,
  told: Told,
): Promise<SearchEnd> {
  const find = finder(sought);
  let found = 0;
  for await (const [{ at, side, lines }, blob] of loaded(wantedIn(files, sought), load)) {
    if (!blob || isBinary(blob)) continue;
    for (const place of findIn(readText(blob).lines, lines, find)) {
      if (found++ >= MOST_FOUND) return { more: true, searched: at };
      told({ path: files[at].path, side, ...place });
    }
  }
  return { more: false, searched: files.length };
}

/** One side of a file that is looked through. */
interface Wanted {
  /** The place of the file among all. */
  at: number;
  side: "old" | "new";
  id: string;
  lines: NonNullable<ReturnType<typeof linesSought>>;
}

function* wantedIn(files: readonly SearchedFile[], { where }: Sought): Generator<Wanted> {
  for (const [at, file] of files.entries()) {
    for (const side of ["new", "old"] as const) {
      const id = side === "new" ? file.newId : file.oldId;
      const lines = linesSought(file, side, where);
      if (id !== null && lines !== null) yield { at, side, id, lines };
    }
  }
}

/** So many blobs are asked for before they are looked at: git reads them while others are searched. */
const AHEAD = 4;

async function* loaded(wanted: Iterable<Wanted>, load: Load): AsyncGenerator<[Wanted, Buffer | null]> {
  const coming: [Wanted, Promise<Buffer | null>][] = [];
  for (const one of wanted) {
    const blob = load(one.id);
    // Where enough was found nobody waits for it; who does is told.
    blob.catch(() => undefined);
    coming.push([one, blob]);
    if (coming.length <= AHEAD) continue;
    const [first, its] = coming.shift()!;
    yield [first, await its];
  }
  for (const [one, its] of coming) yield [one, await its];
}

/**
 * Where something stands in all files of a commit: git finds the lines with the words. For an expression it finds those with what is certain in it, or
 * gives all, and they are looked at here: git's own expressions may take for ever.
 */
export async function searchTree({ folder, commit, sought }: TreeSearchTask, told: Told): Promise<SearchEnd> {
  const find = finder(sought);
  const { words, as } = sought;
  const certain = as === "expression" ? certainIn(words) : words;
  const paths = new Set<string>();
  let found = 0;
  let left = MOST_LINES;
  const how = { whole: as === "whole", capitals: mindsCapitals(words, as), every: certain === "" };
  const more = await eachLineWith(folder, commit, [certain], how, ({ path, line, text }) => {
    const place = left-- > 0 && find(text);
    if (!place) return left > 0;
    if (found++ >= MOST_FOUND) return false;
    paths.add(path);
    told({ path, side: "new", ...foundLine(line, text, place) });
    return true;
  });
  return { more, searched: paths.size };
}

/** What was refused already is not sought here. */
function finder({ words, as }: Sought): Finder {
  const made = finderOf(words, as);
  if (!made.ok) throw new Error(made.refusal.reason);
  return made.value;
}
