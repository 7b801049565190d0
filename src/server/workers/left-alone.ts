import { type ChangedDefinition, changedDefinitions, type DefinedIn } from "@/core/definitions/changed";
import type { Definition } from "@/core/definitions/definition";
import { definitionsIn } from "@/core/definitions/definitions";
import { mentionsIn } from "@/core/definitions/mentions";
import { isTest } from "@/core/diff/order";
import type { LanguageId } from "@/core/grammar/languages";
import { groupedBy } from "@/core/plain/grouped";
import type { LeftAlone, LeftAloneView } from "@/core/views/around-view";
import { linesWith } from "@/git/grep";
import { filesIn } from "@/git/repository";
import { type Load, wholeText } from "./whole-text";

/** A changed file: its contents on both sides, and the lines of the new one that are changed, 0-based, ends exclusive. */
export interface ChangedFile {
  path: string;
  oldPath: string;
  oldId: string | null;
  newId: string | null;
  lines: { start: number; end: number }[];
}

export interface LeftAloneTask {
  folder: string;
  /** The commit in which uses are looked for. */
  to: string;
  files: ChangedFile[];
}

/** More definitions, names, lines, files with uses and uses of one name are not looked through; that is said. */
const MOST_CHANGED = 2_000;
const MOST_NAMES = 300;
const MOST_NOTED = 2_000;
const MOST_LINES = 20_000;
const MOST_PARSED = 300;
/** So many uses of each are told of. */
const MOST_USES = 20;
const LONGEST = 240;
/** A name of fewer letters stands everywhere for something else. */
const LEAST_LETTERS = 3;

/** What is called by another name than its own. */
const UNNAMED = /^(?:constructor|__\w+__|init|main|new|default)$/;

/** Where a part of a class may be used without saying whose. */
const IMPLIED: ReadonlySet<LanguageId> = new Set(["cpp", "csharp", "java", "ruby"]);

interface Place {
  path: string;
  line: number;
  text: string;
  isImport: boolean;
  /** It cannot be a part of anything. */
  bare: boolean;
  /** The line is changed itself. */
  touched: boolean;
}

/** What is found of one name in all files: where it is used, and how often it is defined. */
interface Found {
  uses: Place[];
  defined: { path: string; line: number }[];
}

/** For each definition that a change makes another one: where it is used in lines that the change leaves alone, and what else is worth a look. */
export async function leftAlone({ folder, to, files }: LeftAloneTask, load: Load): Promise<LeftAloneView> {
  // One after the other: all at once would hold the contents of all in memory.
  const defined: DefinedIn[] = [];
  for (const file of files) defined.push(await definedIn(file, load));
  const all = changedDefinitions(defined);
  const named = all.filter(({ name }) => name.length >= LEAST_LETTERS && !UNNAMED.test(name));
  const changed = named.slice(0, MOST_CHANGED);
  const allNames = [...new Set(changed.map(({ name }) => name))];
  const names = allNames.slice(0, MOST_NAMES);
  const { hits, more } = await linesWith(folder, to, names, { most: MOST_LINES });
  const tree = new Map((await filesIn(folder, to)).map(({ path, id }) => [path, id]));
  const paths = [...new Set(hits.map(({ path }) => path))];
  const found = new Map<string, Found>(names.map((name) => [name, { uses: [], defined: [] }]));
  const changedLines = new Map(files.map(({ path, lines }) => [path, lines]));
  const hitsIn = groupedBy(hits, ({ path }) => path);
  for (const path of paths.slice(0, MOST_PARSED)) {
    const here = new Set(hitsIn.get(path)?.flatMap(({ text }) => names.filter((name) => text.includes(name))));
    await note({ path, id: tree.get(path), changed: changedLines.get(path) ?? [] }, here, found, load);
  }
  const hasTests = [...tree.keys()].some(isTest);
  const items = changed.flatMap((definition): LeftAlone[] => {
    const of = found.get(definition.name);
    return of ? [toldOf(definition, of, hasTests)].filter(isWorthALook) : [];
  });
  items.sort((a, b) => Number(a.others > 0) - Number(b.others > 0) || b.count - a.count);
  return {
    items,
    more:
      more ||
      named.length > MOST_CHANGED ||
      allNames.length > MOST_NAMES ||
      paths.length > MOST_PARSED ||
      [...found.values()].some(({ uses }) => uses.length >= MOST_NOTED),
  };
}

async function definedIn({ path, oldPath, oldId, newId }: ChangedFile, load: Load): Promise<DefinedIn> {
  const definitions = async (at: string, id: string | null): Promise<Definition[]> => {
    const syntax = (await wholeText(at, id, load))?.syntax;
    return syntax?.language.identifiers ? definitionsIn(syntax) : [];
  };
  return { path, oldPath, old: await definitions(oldPath, oldId), next: await definitions(path, newId) };
}

/** Notes where some names are used and defined in one file. Without a grammar nothing is known, and nothing noted. */
async function note(
  { path, id, changed }: { path: string; id: string | undefined; changed: ChangedFile["lines"] },
  names: ReadonlySet<string>,
  found: ReadonlyMap<string, Found>,
  load: Load,
): Promise<void> {
  const read = await wholeText(path, id, load);
  if (!read?.syntax) return;
  const { lines, syntax } = read;
  const definitions = definitionsIn(syntax);
  const touched = new Set(
    changed.flatMap(({ start, end }) => Array.from({ length: end - start }, (_, n) => start + n)),
  );
  for (const name of names) {
    const of = found.get(name)!;
    const own = definitions.filter((definition) => definition.name === name);
    for (const { line, scope } of own) if (scope === null) of.defined.push({ path, line });
    const places = new Set(own.map(({ line, column }) => `${line} ${column}`));
    const scopes = own.flatMap(({ scope }) => scope ?? []);
    for (const { line, column, kind, member } of mentionsIn(lines, name, syntax)) {
      const isDefinition = places.has(`${line} ${column}`);
      // Where a local name is the same, the other is out of sight.
      const isLocal = scopes.some((scope) => scope.start <= line && line < scope.end);
      if ((kind !== "code" && kind !== "import") || isDefinition || isLocal) continue;
      if (of.uses.length >= MOST_NOTED) break;
      const bare = !member && !IMPLIED.has(syntax.language.id);
      const text = lines[line].slice(0, LONGEST);
      of.uses.push({ path, line, text, isImport: kind === "import", bare, touched: touched.has(line) });
    }
  }
}

function toldOf(definition: ChangedDefinition, { uses: all, defined }: Found, hasTests: boolean): LeftAlone {
  const isPart = definition.within.length > 0 && (definition.kind === "function" || definition.kind === "field");
  // That something is brought in matters only where it is no longer there.
  const uses = linesOf(
    all.filter(({ isImport, bare }) => !(isPart && bare) && (!isImport || definition.what === "removed")),
  );
  const alone = uses.filter((use) => !use.touched);
  const own = ({ path, line }: { path: string; line: number }) => path === definition.path && line === definition.line;
  return {
    ...definition,
    line: definition.line + 1,
    uses: alone.slice(0, MOST_USES).map(({ path, line, text }) => ({ path, line: line + 1, text })),
    count: alone.length,
    touched: uses.length - alone.length,
    others: defined.filter((place) => definition.what === "removed" || !own(place)).length,
    tested: hasTests ? uses.some(({ path }) => isTest(path)) : null,
  };
}

/** The first use in each line, of uses in the order of their places: a line is looked at once, however often it uses something. */
function linesOf(uses: readonly Place[]): Place[] {
  return uses.filter(({ path, line }, at) => path !== uses[at - 1]?.path || line !== uses[at - 1].line);
}

/** Each is a hint: used where the change does not look, by nothing at all, or by no test. */
function isWorthALook({ what, kind, count, touched, others, tested, path }: LeftAlone): boolean {
  // A part of something that others have a part of the same name of: whose a use is cannot be told by the name.
  if (kind === "field" && others > 0) return false;
  if (what !== "added") return count > 0 || (what === "changed" && kind === "function" && tested === false);
  return others === 0 && count + touched === 0 && kind !== "field" && !isTest(path);
}
