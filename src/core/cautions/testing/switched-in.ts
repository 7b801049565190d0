import type { Parse } from "../../grammar/parse";
import { readTexts } from "../../quiet/read-texts";

/** What is said of lines of a file that did not change and are something else now, and the first of them, 1-based. */
export function switchedIn(
  parse: Parse,
  path: string,
  old: string,
  next: string,
): [says: string, line: number | null][] {
  return readTexts({ [path]: { old, next } }, parse).files[0].cautions.flatMap(({ kind, says, line }) =>
    kind === "switched" ? [[says, line]] : [],
  );
}

/** A line as often as is asked for, `#` in it being their numbers from 0. */
export function many(line: string, count = 12): string {
  return Array.from({ length: count }, (_, n) => line.replace("#", `${n}`)).join("");
}
