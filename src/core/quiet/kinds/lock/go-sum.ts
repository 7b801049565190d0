import { type Pinned, pinned } from "./pinned";

/** Go's `go.sum`: a line for each archive, and for each `go.mod` in one. */
export function readGoSum(lines: readonly string[]): Pinned[] | null {
  const result: Pinned[] = [];
  for (const [at, line] of lines.entries()) {
    const [, name, version, hash] = /^(\S+) (v\S+) (h1:[\w+/]{43}=)$/.exec(line) ?? [];
    if (name === undefined) return null;
    const entry = pinned(`${name} ${version}`, name, at);
    entry.version = version;
    entry.hash = hash;
    entry.end = at + 1;
    result.push(entry);
  }
  return result;
}
