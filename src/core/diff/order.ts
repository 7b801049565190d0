import { groupedBy } from "../plain/grouped";

/** A file to be put in order: its path, and the other files that it names, see {@link namedIn}. */
export interface Ordered {
  path: string;
  names: readonly string[];
}

/** Imports stand at the top; what comes later is not looked at. */
const LOOKED_AT = 400;

/**
 * The order in which files are best read, as places in the list given: what others depend on before what depends on it, a test after
 * what it tests, and the order of folders where nothing is known. Files that depend on each other in a circle keep that last order.
 */
export function readingOrder(files: readonly Ordered[]): number[] {
  const parts = files.map(({ path }) => path.split("/"));
  const inFolders = files.map((_, i) => i).sort((a, b) => compareParts(parts[a], parts[b]));
  const byPath = new Map(files.map(({ path }, i) => [path, i]));
  const byStem = groupedBy(inFolders, (i) => stemOf(files[i].path));
  const known = new Map<string, readonly number[]>();
  const needs = files.map((file, i) => dependencies(file, byPath, byStem, known).filter((other) => other !== i));
  const result: number[] = [];
  const state = new Uint8Array(files.length);
  for (const start of inFolders) {
    // Depth first, on a stack of its own: a chain of imports may be long.
    const stack: { file: number; next: number }[] = [{ file: start, next: 0 }];
    if (state[start] !== 0) continue;
    state[start] = 1;
    while (stack.length > 0) {
      const top = stack[stack.length - 1];
      const need = needs[top.file][top.next++];
      if (need === undefined) {
        state[top.file] = 2;
        result.push(top.file);
        stack.pop();
      } else if (state[need] === 0) {
        state[need] = 1;
        stack.push({ file: need, next: 0 });
      }
    }
  }
  return result;
}

/** Folder by folder; the files of a folder before its sub-folders; by name, where numbers count as numbers. */
export function comparePaths(a: string, b: string): number {
  return compareParts(a.split("/"), b.split("/"));
}

function compareParts(left: readonly string[], right: readonly string[]): number {
  for (let i = 0; ; i++) {
    const lastA = i === left.length - 1;
    const lastB = i === right.length - 1;
    if (lastA !== lastB) return lastA ? -1 : 1;
    if (left[i] !== right[i]) return compareNames(left[i], right[i]);
    if (lastA) return 0;
  }
}

/**
 * Two names, character by character, where digits that stand together count as one number: `r9` before `r10`. Names that are alike
 * but for zeros before a number are told apart by their characters, so that no two different names are equal.
 */
function compareNames(a: string, b: string): number {
  let i = 0;
  let j = 0;
  while (i < a.length && j < b.length) {
    if (isDigit(a, i) && isDigit(b, j)) {
      const [first, second] = [numberAt(a, i), numberAt(b, j)];
      if (first.digits.length !== second.digits.length) return first.digits.length - second.digits.length;
      if (first.digits !== second.digits) return first.digits < second.digits ? -1 : 1;
      [i, j] = [first.end, second.end];
    } else if (a[i] !== b[j]) return a[i] < b[j] ? -1 : 1;
    else {
      i++;
      j++;
    }
  }
  const rest = a.length - i - (b.length - j);
  return rest !== 0 ? rest : a < b ? -1 : a > b ? 1 : 0;
}

function isDigit(text: string, at: number): boolean {
  const code = text.charCodeAt(at);
  return code >= 48 && code <= 57;
}

/** The digits that begin at a place, without zeros before them, and where they end. */
function numberAt(text: string, at: number): { digits: string; end: number } {
  let end = at;
  while (end < text.length && isDigit(text, end)) end++;
  let start = at;
  while (start < end - 1 && text[start] === "0") start++;
  return { digits: text.slice(start, end), end };
}

const TEST = /(?:[._-](?:test|tests|spec)|_test|Test|Tests)$|^(?:test_|tests?$)/;

/** The name without its endings, and without what makes it a test's name. */
function stemOf(path: string): string {
  const name = path.slice(path.lastIndexOf("/") + 1).replace(/\.[^.]+$/, "");
  return name.replace(/[._-](?:test|tests|spec)$|_test$|Tests?$/, "").replace(/^test_/, "");
}

/** Whether a file tries others, told by its path. */
export function isTest(path: string): boolean {
  const name = path.slice(path.lastIndexOf("/") + 1).replace(/\.[^.]+$/, "");
  return TEST.test(name) || /(?:^|\/)(?:tests?|__tests__|spec)\//.test(path);
}

const RELATIVE = /(?:from\s+|import\s+|import\(|require\()\s*['"](\.[^'"]*)['"]/;
const PYTHON = /^\s*(?:from\s+([\w.]+)\s+import|import\s+([\w.]+))/;
const INCLUDE = /^\s*#\s*include\s+"([^"]+)"/;
const ENDINGS = [
  "",
  ".ts",
  ".tsx",
  ".js",
  ".jsx",
  ".mjs",
  ".cjs",
  ".mts",
  ".css",
  ".json",
  "/index.ts",
  "/index.tsx",
  "/index.js",
];

/**
 * The other files that a text names as what it needs, as paths from the root; their endings may be missing.
 *
 * @example namedIn("plan/hold.ts", ['import { window } from "./window";']) // ["plan/window"]
 */
export function namedIn(path: string, lines: readonly string[]): string[] {
  const names: string[] = [];
  const folder = path.includes("/") ? path.slice(0, path.lastIndexOf("/")) : "";
  const isPython = path.endsWith(".py");
  for (const line of lines.slice(0, LOOKED_AT)) {
    if (line.length > 400) continue;
    // Most lines have none of it: what is cheap to ask comes first.
    const likely = line.includes("'.") || line.includes('".') || line.includes("#");
    const relative = likely ? (RELATIVE.exec(line)?.[1] ?? INCLUDE.exec(line)?.[1]) : undefined;
    if (relative !== undefined) {
      names.push(resolve(folder, relative));
      continue;
    }
    const module = isPython ? PYTHON.exec(line) : null;
    if (!module) continue;
    const named = (module[1] ?? module[2]).replace(/^\.+/, "").replaceAll(".", "/");
    for (const from of [named, resolve(folder, named)]) names.push(`${from}.py`, `${from}/__init__.py`);
  }
  return names;
}

function dependencies(
  { path, names }: Ordered,
  byPath: ReadonlyMap<string, number>,
  byStem: ReadonlyMap<string, number[]>,
  /** The files that each name was found to mean: many files name the same. */
  known: Map<string, readonly number[]>,
): number[] {
  const found = new Set<number>();
  for (const name of names) {
    let meant = known.get(name);
    if (!meant) {
      const bare = name.replace(/\.(?:js|jsx|mjs)$/, "");
      meant = ENDINGS.flatMap((ending) => byPath.get(name + ending) ?? byPath.get(bare + ending) ?? []);
      known.set(name, meant);
    }
    for (const at of meant) found.add(at);
  }
  if (isTest(path)) for (const other of byStem.get(stemOf(path)) ?? []) found.add(other);
  return [...found];
}

function resolve(folder: string, relative: string): string {
  const parts = folder === "" ? [] : folder.split("/");
  for (const part of relative.split("/")) {
    if (part === "" || part === ".") continue;
    if (part === "..") parts.pop();
    else parts.push(part);
  }
  return parts.join("/");
}
