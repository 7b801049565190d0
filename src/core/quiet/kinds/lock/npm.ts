import { HASH, registryHost } from "./npm-registry";
import { type Pinned, pinned } from "./pinned";

/** What an entry says of itself in one word, and what it is needed for. */
const WORDS = /^(?:license|deprecated|engines)$/;
const FLAGS = /^(?:dev|optional|peer|devOptional)$/;
/** What holds lines of its own that choose nothing. */
const SAID = /^(?:peerDependenciesMeta|engines|funding|os|cpu|libc)$/;
const NEEDS = /^(?:dependencies|peerDependencies|optionalDependencies)$/;

/** Lockfiles of npm of version 3, as npm writes them: then what a line says can be told from its indentation. */
export function readNpm(lines: readonly string[]): Pinned[] | null {
  const text = lines.join("\n");
  let value: { lockfileVersion?: unknown };
  try {
    value = JSON.parse(text);
  } catch {
    return null;
  }
  if (value?.lockfileVersion !== 3 || JSON.stringify(value, null, 2) !== text) return null;
  const result: Pinned[] = [];
  const from = lines.indexOf('  "packages": {');
  if (from < 0) return null;
  for (let at = from + 1; at < lines.length && lines[at] !== "  }" && lines[at] !== "  },"; ) {
    const [, key, rest] = /^ {4}"((?:[^"\\])*)": \{(.*)$/.exec(lines[at]) ?? [];
    if (key === undefined) return null;
    const start = at++;
    const entry = pinned(key, key.slice(key.lastIndexOf("node_modules/") + 13), start);
    let address = "";
    let within = "";
    for (; rest === "" && at < lines.length && !/^ {4}\}/.test(lines[at]); at++) {
      const [, field, said] = /^ {6}"(\w+)": (.*?),?$/.exec(lines[at]) ?? [];
      if (field === undefined) {
        if (/^ {6}[}\]],?$/.test(lines[at])) within = "";
        else noteWithin(entry, within, lines[at], at);
        continue;
      }
      const word = /^"(.*)"$/.exec(said)?.[1] ?? "";
      if (field === "version") entry.version = word;
      else if (field === "resolved") address = word;
      else if (field === "integrity") {
        entry.hash = word;
        if (!HASH.test(word)) entry.odd.push(at);
      } else if (field === "hasInstallScript") {
        entry.runsScript = true;
        entry.odd.push(at);
      } else if (/[{[]$/.test(said)) within = field;
      else if (FLAGS.test(field)) entry.own.set(field, at);
      else if (!WORDS.test(field)) entry.odd.push(at);
    }
    if (rest === "") at++;
    entry.end = at;
    // The project itself, and what lies in it, is no package that was fetched.
    if (!key.includes("node_modules/")) continue;
    entry.host = address === "" ? "" : registryHost(address, entry.name, entry.version);
    result.push(entry);
  }
  return result;
}

/** A line of what an entry needs, of the programs that it brings, or of what chooses nothing. */
function noteWithin(entry: Pinned, within: string, line: string, at: number): void {
  const [, name, said] = /^ {8}"([^"]*)": "([^"]*)",?$/.exec(line) ?? [];
  if (within === "bin" && name !== undefined) {
    // Scripts find a program by its name: one that is called otherwise than its package may stand before another.
    if (name !== entry.name.slice(entry.name.lastIndexOf("/") + 1)) entry.own.set(`program ${name}`, at);
  } else if (NEEDS.test(within)) {
    // Anything but a range of versions comes from elsewhere: `file:evil.tgz`, `somebody/tide`.
    if (said === undefined || /[:/]/.test(said)) entry.odd.push(at);
  } else if (!SAID.test(within)) entry.odd.push(at);
}
