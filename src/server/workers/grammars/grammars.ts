import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import type { Language as Grammar, Parser, Tree } from "web-tree-sitter";
import { LANGUAGES, type Language, type LanguageId } from "@/core/grammar/languages";
import type { Before, Parse, ParseAsk } from "@/core/grammar/parse";
import { kindsOf, lineStarts, readTree, type Syntax } from "@/core/grammar/syntax";
import { Patience, threadTime } from "../thread-time";
import { anotherInstance, type Instance, packages } from "./instance";

/** Where each grammar lies within the package that ships it. */
const FILES: Record<LanguageId, [name: string, file: string]> = {
  bash: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-bash.wasm"],
  c: ["tree-sitter-c", "tree-sitter-c.wasm"],
  cpp: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-cpp.wasm"],
  csharp: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-c-sharp.wasm"],
  css: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-css.wasm"],
  go: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-go.wasm"],
  java: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-java.wasm"],
  javascript: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-javascript.wasm"],
  json: ["tree-sitter-json", "tree-sitter-json.wasm"],
  php: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-php.wasm"],
  powershell: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-powershell.wasm"],
  python: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-python.wasm"],
  ruby: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-ruby.wasm"],
  rust: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-rust.wasm"],
  toml: ["@tree-sitter-grammars/tree-sitter-toml", "tree-sitter-toml.wasm"],
  tsx: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-tsx.wasm"],
  typescript: ["@vscode/tree-sitter-wasm", "wasm/tree-sitter-typescript.wasm"],
  yaml: ["@tree-sitter-grammars/tree-sitter-yaml", "tree-sitter-yaml.wasm"],
};

interface Loaded {
  parser: Parser;
  kinds: Uint8Array;
  typeName: (type: number) => string;
  fieldName: (field: number) => string;
}

/** Texts longer than this, in UTF-16 units, are not parsed: nothing in them is proven. */
const LONGEST = 1_500_000;
/** How much of a processor one text may take, in milliseconds, before it is left unproven. */
const PATIENCE = 5_000;
/** How much memory a thread keeps when it begins something else, in bytes. */
const ENOUGH_MEMORY = 128_000_000;
/** How much texts that prove nothing may take together, in the same way, before a thread reads no more of them for what it does: thousands can be pushed at once. */
const PATIENCE_IN_ALL = 30_000;
/** Kept parses, the one used last at the end: as much text as this, in UTF-16 units. */
const KEPT = 4_000_000;
/** And no more than so many: a text that proves nothing is remembered as well, and weighs nothing. */
const MOST_KEPT = 2_000;

let begun: Promise<Instance> | null = null;
/** The same, once it is there. */
let instance: Instance | null = null;
/** Milliseconds of a processor that texts which prove nothing took since something was begun. */
let lost = 0;
const loaded = new Map<LanguageId, Promise<Loaded>>();
const ready = new Map<LanguageId, Loaded>();
const kept = new Map<string, Syntax | null>();
let keptSize = 0;

/**
 * Loads the grammars of some languages, each once a thread, and gives the function that parses with all that are there. Called whenever a thread begins
 * something: what the one before took too much of is given back.
 */
export async function grammars(languages: Iterable<LanguageId>): Promise<Parse> {
  if (memoryTaken() > ENOUGH_MEMORY) letGo();
  lost = 0;
  await Promise.all([...new Set(languages)].map(async (id) => ready.set(id, await load(id))));
  return parse;
}

/** Bytes of memory that grammars have taken on this thread. */
export function memoryTaken(): number {
  return instance?.memory() ?? 0;
}

/** Until grammars are loaded anew nothing is read, and nothing proven. */
function letGo(): void {
  latest = null;
  loaded.clear();
  ready.clear();
  begun = null;
  instance = null;
}

/** Forgets all kept parses: for measuring what it costs to make them. */
export function forgetParses(): void {
  latest?.tree.delete();
  latest = null;
  kept.clear();
  keptSize = 0;
}

/** What was read elsewhere, on another thread, by the same grammar: its functions do not travel. */
export function readElsewhere({ language, text }: ParseAsk, lists: SyntaxLists): Syntax | null {
  const grammar = ready.get(language.id);
  return grammar ? { ...lists, language, text, typeName: grammar.typeName, kinds: grammar.kinds } : null;
}

/** The part of a syntax that can be handed from thread to thread. */
export type SyntaxLists = Pick<Syntax, "type" | "depth" | "start" | "end" | "parent" | "tokens" | "lines">;

/** All of them. */
export function allGrammars(): Promise<Parse> {
  return grammars(LANGUAGES.map(({ id }) => id));
}

function load(id: LanguageId): Promise<Loaded> {
  let loading = loaded.get(id);
  if (!loading) {
    loading = loadNow(id);
    loaded.set(id, loading);
  }
  return loading;
}

async function loadNow(id: LanguageId): Promise<Loaded> {
  begun ??= anotherInstance();
  instance = await begun;
  const [name, file] = FILES[id];
  const grammar = await instance.Language.load(await readFile(join(folderOf(name), file)));
  const parser = new instance.Parser();
  parser.setLanguage(grammar);
  const types = typeNames(grammar);
  const language = LANGUAGES.find((one) => one.id === id)!;
  const fields = Array.from({ length: grammar.fieldCount + 1 }, (_, field) => grammar.fieldNameForId(field) ?? "");
  return {
    parser,
    kinds: kindsOf(language, types),
    typeName: (type) => types[type] ?? "",
    fieldName: (field) => fields[field] ?? "",
  };
}

function typeNames(grammar: Grammar): string[] {
  const names: string[] = [];
  for (let type = 0; type < grammar.nodeTypeCount; type++) names.push(grammar.nodeTypeForId(type) ?? "");
  return names;
}

/** The folder of an installed package, be its `package.json` exported or not. */
function folderOf(name: string): string {
  const require = packages();
  for (const folder of require.resolve.paths(name) ?? []) {
    try {
      require.resolve(join(folder, name, "package.json"));
      return join(folder, name);
    } catch {
      // Not in this folder.
    }
  }
  throw new Error(`The package ${name} is not installed.`);
}

function parse(ask: ParseAsk): Syntax | null {
  const { language, text, interest } = ask;
  if (text.length > LONGEST) return null;
  const key = `${language.id}\0${createHash("sha1").update(text).digest("base64")}\0${interest.join(",")}`;
  const known = kept.get(key);
  if (known !== undefined) {
    kept.delete(key);
    kept.set(key, known);
    return known;
  }
  // What is not read since others took all there was is not remembered for that.
  if (lost > PATIENCE_IN_ALL || !ready.has(language.id)) return null;
  const syntax = parseAnew(ask);
  kept.set(key, syntax);
  keptSize += syntax ? text.length : 0;
  for (const [old, one] of kept) {
    if (keptSize <= KEPT && kept.size <= MOST_KEPT) break;
    kept.delete(old);
    keptSize -= one?.text.length ?? 0;
  }
  return syntax;
}

/**
 * A text as its grammar reads it, all of it with its fields, also where there are errors; null for what is too large or takes too long. Nothing is
 * proven by it. The grammars must have been loaded by {@link grammars}.
 */
export function parseWhole(language: Language, text: string): Syntax | null {
  const grammar = ready.get(language.id);
  if (!grammar || text.length > LONGEST) return null;
  const { kinds, typeName, fieldName } = grammar;
  const tree = treeOf(grammar, text, null, false);
  if (!tree) return null;
  try {
    return readTree(tree, text, language, typeName, kinds, null, fieldName);
  } finally {
    tree.delete();
  }
}

/** The same as the function that {@link grammars} gives, but for that nothing is kept. */
export function parseAnew({ language, text, interest, before }: ParseAsk): Syntax | null {
  const grammar = ready.get(language.id);
  if (!grammar || text.length > LONGEST || lost > PATIENCE_IN_ALL) return null;
  const { kinds, typeName } = grammar;
  const known = before && latest?.language === language && latest.text === before.text ? latest.tree : null;
  if (known) edit(known, before!, text);
  const begun = threadTime.now();
  const tree = treeOf(grammar, text, known, true);
  if (!tree || tree.rootNode.hasError) lost += threadTime.now() - begun;
  // Also where there is no other: one that was edited fits its text no more, and what would be parsed from it might be wrong.
  latest?.tree.delete();
  latest = null;
  if (!tree) return null;
  // The tree is kept until the next one is there: as a rule that is of the other state of the same file.
  latest = { language, text, tree };
  return readTree(tree, text, language, typeName, kinds, interest);
}

/**
 * The tree of a text, from one that was edited to fit it or from nothing; null where it takes too long or too much, and for a proof where
 * an error is come upon: what the text could have meant is looked for at length then, and proves nothing.
 */
function treeOf({ parser }: Loaded, text: string, known: Tree | null, forProof: boolean): Tree | null {
  const patience = new Patience(PATIENCE);
  try {
    const tree = parser.parse(text, known, {
      progressCallback: ({ hasError }) => (forProof && hasError) || patience.isOver(),
    });
    if (!tree) parser.reset();
    return tree;
  } catch (error) {
    if (!(error instanceof WebAssembly.RuntimeError || error instanceof RangeError)) throw error;
    // It ran out of memory or of its stack: texts can be made of which a few kilobytes take all there is. Both are as they were in the middle of it.
    letGo();
    return null;
  }
}

/** The tree that was parsed last. */
let latest: { language: Language; text: string; tree: Tree } | null = null;

/** Tells a tree how its text became another, so that only what differs is parsed. The last hunk first: then places of the others stay. */
function edit(tree: Tree, { text: old, hunks }: Before, next: string): void {
  const [before, after] = [lineStarts(old), lineStarts(next)];
  for (const { oldStart, oldEnd, newStart, newEnd } of hunks.toReversed()) {
    tree.edit(
      new instance!.Edit({
        startIndex: before[oldStart],
        oldEndIndex: before[oldEnd],
        newEndIndex: before[oldStart] + after[newEnd] - after[newStart],
        startPosition: { row: oldStart, column: 0 },
        oldEndPosition: { row: oldEnd, column: 0 },
        newEndPosition: { row: oldStart + newEnd - newStart, column: 0 },
      }),
    );
  }
}
