import type { Definition } from "./definition";

/** A definition and the file that it stands in. */
export interface DefinitionAt extends Definition {
  path: string;
}

/** Where somebody asks what a name means. */
export interface Asking {
  path: string;
  /** 0-based. */
  line: number;
  /** The name stands behind a dot or the like: it is a part of something. */
  member: boolean;
  /** The modules that the asking file brings the name in from, as they are written there. */
  imports: readonly string[];
}

/** Why a definition is taken for the one that is meant; `name` where nothing else speaks for it. */
export type Reason = "scope" | "file" | "import" | "folder" | "name";

export interface Meant<D extends DefinitionAt = DefinitionAt> {
  definition: D;
  reason: Reason;
}

const ORDER: readonly Reason[] = ["scope", "file", "import", "folder", "name"];

/**
 * The definitions of a name, the one that is most likely meant first: what is known where it is asked from, the innermost first; then of the
 * same file, of a module that is imported there, of the same folder, and the rest by how near their files are. What is known only within
 * another function is left out.
 */
export function meant<D extends DefinitionAt>(asking: Asking, definitions: readonly D[]): Meant<D>[] {
  const isHere = ({ path, scope }: DefinitionAt) =>
    scope === null || (path === asking.path && scope.start <= asking.line && asking.line < scope.end);
  const folder = folderOf(asking.path);
  const reasonOf = (definition: DefinitionAt): Reason => {
    if (definition.scope && !asking.member) return "scope";
    if (definition.path === asking.path) return "file";
    if (asking.imports.some((module) => leadsTo(asking.path, module, definition.path))) return "import";
    return folderOf(definition.path) === folder ? "folder" : "name";
  };
  const rank = ({ definition: { scope, path, kind, within }, reason }: Meant): number[] => [
    // A part of something is no local name, whatever that is called.
    asking.member && scope ? 1 : 0,
    ORDER.indexOf(reason),
    scope ? -scope.start : 0,
    asking.member === within.length > 0 || kind === "field" ? 0 : 1,
    -sharedFolders(path, asking.path),
  ];
  return definitions
    .filter(isHere)
    .map((definition): Meant<D> => ({ definition, reason: reasonOf(definition) }))
    .map((one) => ({ one, ranks: rank(one) }))
    .sort((a, b) => compare(a.ranks, b.ranks) || byPlace(a.one.definition, b.one.definition))
    .map(({ one }) => one);
}

/**
 * Whether a module, as an import names it, is the file at a path or lies in its folder. Modules are written in many ways, `./tides.js`,
 * `planner.tides`, `harbour/tides`, `crate::tides`: what counts is that their last parts are those of the path.
 */
export function leadsTo(from: string, module: string, path: string): boolean {
  const target = path.replace(/\.[^./]+$/, "").split("/");
  if (/^(?:index|__init__|mod|main)$/.test(target[target.length - 1])) target.pop();
  if (/^\.{1,2}(?:\/|$)/.test(module)) {
    const parts = folderOf(from).split("/").filter(Boolean);
    for (const part of module.replace(/\.[a-z]+$/i, "").split("/")) {
      if (part === "..") parts.pop();
      else if (part !== "." && part !== "") parts.push(part);
    }
    if (/^(?:index|__init__|mod)$/.test(parts[parts.length - 1] ?? "")) parts.pop();
    return parts.join("/") === target.join("/");
  }
  const parts = module.split(/::|[./\\]/).filter((part) => part !== "" && !/^(?:crate|self|super)$/.test(part));
  const last = parts[parts.length - 1];
  if (last === undefined) return false;
  const before = parts[parts.length - 2];
  // The module is the file, or the folder that it lies in.
  return [target, target.slice(0, -1)].some((place) => {
    const above = place[place.length - 2];
    return place[place.length - 1] === last && (before === undefined || above === undefined || above === before);
  });
}

/** The folder of a path; empty at the top. */
export function folderOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf("/")));
}

/** How many folders two paths share from the top. */
export function sharedFolders(a: string, b: string): number {
  const [left, right] = [a.split("/"), b.split("/")];
  let count = 0;
  while (count < left.length - 1 && left[count] === right[count]) count++;
  return count;
}

function compare(a: readonly number[], b: readonly number[]): number {
  for (const [n, value] of a.entries()) if (value !== b[n]) return value - b[n];
  return 0;
}

function byPlace(a: DefinitionAt, b: DefinitionAt): number {
  return a.path < b.path ? -1 : a.path > b.path ? 1 : a.line - b.line;
}
