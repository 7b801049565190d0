import { type Pinned, pinned } from "./pinned";

/** Lockfiles of Cargo. */
export function readCargo(lines: readonly string[]): Pinned[] | null {
  const result: Pinned[] = [];
  const versions = new Map<string, number>();
  for (let at = 0; at < lines.length; at++) {
    if (lines[at] !== "[[package]]") continue;
    const entry = pinned("", "", at++);
    const seen = new Set<string>();
    let within = false;
    for (; at < lines.length && lines[at] !== ""; at++) {
      // Without an empty line between them one entry could take in another.
      if (lines[at] === "[[package]]") return null;
      const [, field, said] = /^(\w+) = "([^"]*)"$/.exec(lines[at]) ?? [];
      const isFirst = field !== undefined && !seen.has(field);
      seen.add(field ?? "");
      if (isFirst && field === "name") entry.name = said;
      else if (isFirst && field === "version") entry.version = said;
      else if (isFirst && field === "source") entry.host = /^registry\+https:\/\/\S+$/.test(said) ? said : null;
      else if (isFirst && field === "checksum" && /^[0-9a-f]{64}$/.test(said)) entry.hash = said;
      else if (lines[at] === "dependencies = [") within = true;
      else if (lines[at] === "]") within = false;
      else if (!within || !/^ "[\w-]+(?: [\w.+-]+)?",$/.test(lines[at])) entry.odd.push(at);
    }
    entry.end = at;
    if (entry.name === "") return null;
    // Several versions of one crate may stand side by side: they are told apart by their place among each other.
    const nth = versions.get(entry.name) ?? 0;
    versions.set(entry.name, nth + 1);
    entry.key = `${entry.name} ${nth}`;
    result.push(entry);
  }
  for (const entry of result) if (versions.get(entry.name)! > 1) entry.key = `${entry.name} ${entry.version}`;
  return result;
}
