import type { ClassedFile } from "../../classes";
import type { Echo } from "./echo-stretch";

/** A file of fewer lines is read wherever it comes in. */
const LEAST_LINES = 4;

/**
 * Whole new files that are the same, byte for byte, as a new one of the same name that is to be read: the other build of it, say. That they
 * stand there, too, is a fact to read. `order` are the files that take part, those that are best read first; only those of one `kin` are
 * compared. Gives for each such file the one that it is the same as, by their places.
 */
export function classAddedTwice(
  files: readonly ClassedFile[],
  order: readonly number[],
  kinOf: (file: number) => string,
  echoes: Echo[],
): Map<number, number> {
  const firsts = new Map<string, { file: number; ref: number }>();
  const twice = new Map<number, number>();
  for (const at of order) {
    const { next, old } = files[at];
    if (old.length > 0 || next.length < LEAST_LINES || !isOpen(files[at])) continue;
    const key = `${kinOf(at)}\0${next.join("\n")}`;
    const first = firsts.get(key);
    if (!first) {
      firsts.set(key, { file: at, ref: -1 });
      continue;
    }
    if (first.ref < 0) {
      first.ref = echoes.length;
      const all = { start: 0, end: next.length };
      echoes.push({ file: first.file, old: { start: 0, end: 0 }, next: all, times: 0, names: [] });
    }
    echoes[first.ref].times++;
    for (let line = 0; line < next.length; line++) files[at].set("new", line, "echo", first.ref);
    twice.set(at, first.file);
  }
  return twice;
}

function isOpen(file: ClassedFile): boolean {
  return file.next.every((_, line) => file.isOpen("new", line));
}
