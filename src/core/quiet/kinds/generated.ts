import type { PairedChange } from "../../diff/tree";
import { glob } from "../../pattern/glob";
import type { ClassedFile } from "../classes";

const LONG_LINE = 500;
const LONG_SIZE = 5_000;

/** Why a file is taken for generated, in a word or two, and which of its changed lines are quiet for it. */
export interface Generated {
  reason: string;
  /** All of them, or only those that are long themselves. */
  lines: "all" | "long";
}

/**
 * Whether a file is taken for generated; null when a person seems to have written it. Proof: the git attribute `lens-generated` says so, as
 * the *target* has it (`attribute`); or both states are made of long lines, in a format or under a name of what programs write: then only
 * lines that are long themselves. A file that says what is generated never is.
 */
export function generatedBy(file: ClassedFile, attribute: boolean | null): Generated | null {
  if (attribute === false || /(?:^|\/)\.gitattributes$/.test(file.path)) return null;
  if (attribute) return { reason: "marked as generated", lines: "all" };
  if (file.copy) return null;
  const [before, after] = [writtenAs(file.oldPath, file.old), writtenAs(file.path, file.next)];
  return before !== null && before === after ? { reason: before, lines: "long" } : null;
}

function writtenAs(path: string, lines: readonly string[]): string | null {
  const name = path.slice(path.lastIndexOf("/") + 1);
  if (!/\.(?:js|mjs|cjs|css|map)$/.test(name) || lines.length === 0) return null;
  let size = 0;
  let long = 0;
  for (const { length } of lines) {
    size += length;
    if (length >= LONG_LINE) long += length;
  }
  // One long line among many short ones says nothing about those: nearly all of the text has to stand on long lines.
  if (size < LONG_SIZE || long < size * 0.9) return null;
  return /\.(?:js|css|mjs)\.map$/.test(name) ? "source map" : "minified";
}

/** Classes what is quiet of a generated file. */
export function classGenerated(file: ClassedFile, { lines }: Generated): void {
  for (const side of ["old", "new"] as const) {
    for (const hunk of file.hunks) {
      const [from, to] = side === "old" ? [hunk.oldStart, hunk.oldEnd] : [hunk.newStart, hunk.newEnd];
      for (let line = from; line < to; line++)
        if (lines === "all" || file.lines(side)[line].length >= LONG_LINE) file.set(side, line, "generated");
    }
  }
}

/** One line of a `.gitattributes` file that speaks of `lens-generated`. */
interface Rule {
  matches: (path: string) => boolean;
  generated: boolean;
}

/**
 * Reads `lens-generated` out of `.gitattributes` files, given by the folder they lie in ("" for the top). The answer for a path is true
 * for set, false for unset (`-lens-generated`), null for unspecified; the deepest file and the last line in it win, as in git.
 */
export function readAttributes(files: readonly { folder: string; text: string }[]): (path: string) => boolean | null {
  const rules: Rule[] = [];
  for (const { folder, text } of [...files].sort((a, b) => a.folder.length - b.folder.length)) {
    for (const line of text.split("\n")) {
      const [pattern, ...attributes] = line.trim().split(/\s+/);
      if (!pattern || pattern.startsWith("#") || pattern.startsWith("!")) continue;
      for (const attribute of attributes) {
        const [, minus, value] = /^(-?)lens-generated(?:=(.*))?$/.exec(attribute) ?? [];
        if (minus === undefined) continue;
        rules.push({ matches: matcher(folder, pattern), generated: minus === "" && value !== "false" });
      }
    }
  }
  return (path) => rules.findLast(({ matches }) => matches(path))?.generated ?? null;
}

/**
 * What attributes say of a change, see {@link readAttributes}: what came from where people write is not quiet for where it went, since it is gone from
 * there.
 */
export function attributeOf(
  { path, oldPath, copy }: Pick<PairedChange, "path" | "oldPath" | "copy">,
  attributes: (path: string) => boolean | null,
): boolean | null {
  const said = attributes(path);
  return said && oldPath !== null && !copy && !attributes(oldPath) ? null : said;
}

/** A pattern of gitattributes(5), without its character classes by name: without a slash it fits the name anywhere below, with one the path from its folder on. */
function matcher(folder: string, pattern: string): (path: string) => boolean {
  const fits = glob(pattern.replace(/^\//, ""));
  const whole = pattern.includes("/");
  const prefix = folder === "" ? "" : `${folder}/`;
  return (path) => {
    if (!path.startsWith(prefix)) return false;
    const rest = path.slice(prefix.length);
    return fits(whole ? rest : rest.slice(rest.lastIndexOf("/") + 1));
  };
}
