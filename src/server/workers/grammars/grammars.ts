import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import { createRequire } from "node:module";
import { join } from "node:path";
import { setFlagsFromString } from "node:v8";
import { Edit, type Language as Grammar, Parser, type Tree } from "web-tree-sitter";
import { LANGUAGES, type Language, type LanguageId } from "@/core/grammar/languages";
import type { Before, Parse, ParseAsk } from "@/core/grammar/parse";
import { kindsOf, lineStarts, readTree, type Syntax } from "@/core/grammar/syntax";

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
/** How long one text may take, in milliseconds, before it is left unproven. */
const PATIENCE = 5_000;
/** Kept parses, the one used last at the end: as much text as this, in UTF-16 units. */
const KEPT = 4_000_000;
/** And no more than so many: a text that proves nothing is remembered as well, and weighs nothing. */
const MOST_KEPT = 2_000;

let begun: Promise<void> | null = null;
const loaded = new Map<LanguageId, Promise<Loaded>>();
const ready = new Map<LanguageId, Loaded>();
const kept = new Map<string, Syntax | null>();
let keptSize = 0;

/** Loads the grammars of some languages, each once a thread, and gives the function that parses with all that are there. */
export async function grammars(languages: Iterable<LanguageId>): Promise<Parse> {
  await Promise.all([...new Set(languages)].map(async (id) => ready.set(id, await load(id))));
  return parse;
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

/** What is used of the module that web-tree-sitter is made of: the one that it is given, with its parts put in. */
interface WasmModule {
  HEAP32: Int32Array;
  setValue: (place: number, value: number, type: string) => void;
  getValue: (place: number, type: string) => number;
}

/**
 * V8 compiles a function of a grammar well when it is first called: what its quick compiler makes is half as fast. One pass is left out, which makes
 * equal addresses one: whoever chooses instructions then asks for each use of an address about all others, and the lexer of PowerShell, one
 * function, took 13 s.
 */
const COMPILING = ["--no-liftoff", "--no-wasm-opt"];

/**
 * Each step of a cursor goes through `setValue` and `getValue` eight times, which look at the type anew each time. Nearly all of it is `i32`, done
 * here at once: walking a tree takes a third of the time.
 */
async function begin(): Promise<void> {
  for (const flag of COMPILING) setFlagsFromString(flag);
  const wasm = {} as WasmModule;
  await Parser.init(wasm);
  const { setValue, getValue } = wasm;
  if (!setValue || !getValue || !wasm.HEAP32) return;
  wasm.setValue = (place, value, type) => {
    if (type === "i32") wasm.HEAP32[place >> 2] = value;
    else setValue(place, value, type);
  };
  wasm.getValue = (place, type) => (type === "i32" ? wasm.HEAP32[place >> 2] : getValue(place, type));
}

async function loadNow(id: LanguageId): Promise<Loaded> {
  begun ??= begin();
  await begun;
  const { Language: Wasm } = await import("web-tree-sitter");
  const [name, file] = FILES[id];
  const grammar = await Wasm.load(await readFile(join(folderOf(name), file)));
  const parser = new Parser();
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
  const require = createRequire(join(process.env.LENS_ROOT ?? process.cwd(), "package.json"));
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
  const { parser, kinds, typeName, fieldName } = grammar;
  const begun = performance.now();
  const tree = parser.parse(text, null, { progressCallback: () => performance.now() - begun > PATIENCE });
  if (!tree) {
    parser.reset();
    return null;
  }
  try {
    return readTree(tree, text, language, typeName, kinds, null, fieldName);
  } finally {
    tree.delete();
  }
}

/** The same as the function that {@link grammars} gives, but for that nothing is kept. */
export function parseAnew({ language, text, interest, before }: ParseAsk): Syntax | null {
  const grammar = ready.get(language.id);
  if (!grammar || text.length > LONGEST) return null;
  const { parser, kinds, typeName } = grammar;
  const known = before && latest?.language === language && latest.text === before.text ? latest.tree : null;
  if (known) edit(known, before!, text);
  const begun = performance.now();
  const tree = parser.parse(text, known, { progressCallback: () => performance.now() - begun > PATIENCE });
  if (!tree) {
    parser.reset();
    return null;
  }
  // The tree is kept until the next one is there: as a rule that is of the other state of the same file.
  latest?.tree.delete();
  latest = { language, text, tree };
  return readTree(tree, text, language, typeName, kinds, interest);
}

/** The tree that was parsed last. One that was edited fits its text no more, and is let go at once. */
let latest: { language: Language; text: string; tree: Tree } | null = null;

/** Tells a tree how its text became another, so that only what differs is parsed. The last hunk first: then places of the others stay. */
function edit(tree: Tree, { text: old, hunks }: Before, next: string): void {
  const [before, after] = [lineStarts(old), lineStarts(next)];
  for (const { oldStart, oldEnd, newStart, newEnd } of hunks.toReversed()) {
    tree.edit(
      new Edit({
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
