import { visible } from "../cautions/visible";

/** So much of the end of a log is kept, in characters. */
export const LONGEST_TAIL = 20_000;

/** What programs write to move about and colour a terminal: control sequences (ECMA-48), and titles of windows. */
const CONTROL = /\u001b\[[0-?]*[ -/]*[@-~]|\u001b\][^\u0007\u001b]*(?:\u0007|\u001b\\)|\u001b[@-Z\\-_]/g;

/**
 * The end of what a program wrote, as it stands on a page: without colours, each line as it was left where it was written over, other odd characters written
 * out. It begins with a whole line.
 *
 * @example tailOf("\u001b[32mok\u001b[0m 1\r\u001b[Kok 2\n") // "ok 2\n"
 */
export function tailOf(text: string): string {
  const plain = text.slice(-4 * LONGEST_TAIL).replace(CONTROL, "");
  const lines = plain.split(/\r?\n/).map((line) => {
    // What is behind the last return stands over what was there.
    const parts = line.split("\r").filter((part) => part !== "");
    return visible(parts.at(-1) ?? "");
  });
  const whole = lines.join("\n");
  if (whole.length <= LONGEST_TAIL) return whole;
  const cut = whole.slice(-LONGEST_TAIL);
  return cut.slice(cut.indexOf("\n") + 1);
}

/** The last line that says something, for where there is room for one. */
export function lastLine(tail: string): string {
  return (tail.trimEnd().split("\n").at(-1) ?? "").trim().slice(0, 200);
}

/**
 * What is new in the end of a log beside the end that was seen before: what stands behind the longest piece of it that is there still. All of it where nothing
 * of it is.
 *
 * @example newIn("one\ntwo\n", "two\nthree\n") // "three\n"
 */
export function newIn(before: string, now: string): string {
  if (now.startsWith(before)) return now.slice(before.length);
  // Its beginning was cut off: the last lines of before are looked for.
  for (let at = before.indexOf("\n"); at >= 0; at = before.indexOf("\n", at + 1)) {
    const rest = before.slice(at + 1);
    if (rest !== "" && now.startsWith(rest)) return now.slice(rest.length);
  }
  return now;
}
