import type { PairedChange } from "../diff/tree";
import { counted, shortened } from "../plain/words";
import type { Fact } from "./facts";

/** So much is quoted of a path, in UTF-16 units: thousands of files can each have one of thousands. */
const LONGEST = 200;

/**
 * What files are called now, and where they went, as facts to read: tests, routes, steps of a migration and jobs are found by their names and places, so
 * that the same text under another one does another thing. Each other name is a fact of its own; that files went from one folder to another is said once, at the
 * first of them. Nothing is said of what is marked as generated. Gives the facts by the places of the changes, which are in reading order.
 *
 * @example // of `src/a.ts` and `src/b/c.ts`, which are in `lib` now: one, at the first
 */
export function renameFacts(
  files: readonly { change: Pick<PairedChange, "path" | "oldPath" | "copy">; attribute: boolean | null }[],
): Map<number, Fact> {
  const facts = new Map<number, Fact>();
  const ways = new Map<string, { from: string; to: string; files: number[] }>();
  for (const [at, { change, attribute }] of files.entries()) {
    const { path, oldPath, copy } = change;
    if (oldPath === null || copy || attribute === true) continue;
    const [was, is] = [nameOf(oldPath), nameOf(path)];
    const { from, to } = wayOf(oldPath, path);
    if (was !== is) {
      const [before, now] = (from === to ? [was, is] : [oldPath, path]).map((one) => shortened(one, LONGEST));
      const why =
        endingOf(was) !== endingOf(is)
          ? "another kind of file by its name"
          : "what looks for files by their names may see another";
      facts.set(at, { kind: "renamed", says: `It was ${before} and is ${now}: ${why}.` });
    } else {
      const way = ways.get(`${from}\0${to}`) ?? { from, to, files: [] };
      way.files.push(at);
      ways.set(`${from}\0${to}`, way);
    }
  }
  for (const { from, to, files } of ways.values()) {
    const others = files.length > 1 ? ` So did ${counted(files.length - 1, "more file")}.` : "";
    const says = `It went from ${folder(from)} to ${folder(to)}: what looks for files by their places may see another.${others}`;
    facts.set(files[0], { kind: "renamed", says });
  }
  return facts;
}

/** The folders between which a file of one name went, without the folders within them that stayed the same; empty for the top. */
function wayOf(oldPath: string, path: string): { from: string; to: string } {
  const from = oldPath.split("/").slice(0, -1);
  const to = path.split("/").slice(0, -1);
  while (from.length > 0 && to.length > 0 && from.at(-1) === to.at(-1)) {
    from.pop();
    to.pop();
  }
  return { from: from.join("/"), to: to.join("/") };
}

function folder(path: string): string {
  return path === "" ? "the top" : `${shortened(path, LONGEST)}/`;
}

function nameOf(path: string): string {
  return path.slice(path.lastIndexOf("/") + 1);
}

/** What a name ends with, by which programs choose what to do with a file; the whole name where it has no ending. */
function endingOf(name: string): string {
  const dot = name.lastIndexOf(".");
  return dot > 0 ? name.slice(dot) : name;
}
