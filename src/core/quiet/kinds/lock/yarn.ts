import { HASH, registryHost } from "./npm-registry";
import { type Pinned, pinned } from "./pinned";

/** Lockfiles of Yarn of version 1. */
export function readYarn(lines: readonly string[]): Pinned[] | null {
  if (!lines.some((line) => line === "# yarn lockfile v1")) return null;
  const result: Pinned[] = [];
  for (let at = 0; at < lines.length; ) {
    if (lines[at] === "" || lines[at].startsWith("#")) {
      at++;
      continue;
    }
    const [, key] = /^(\S.*):$/.exec(lines[at]) ?? [];
    if (key === undefined) return null;
    const asked = key.split(", ").map((one) => one.replace(/^"|"$/g, ""));
    const name = asked[0].slice(0, asked[0].indexOf("@", 1));
    const entry = pinned(asked[0], name, at++);
    // Asked for under another name, or from elsewhere: what is fetched is not what is called so.
    if (asked.some((one) => !one.startsWith(`${name}@`) || /npm:|[:/]/.test(one.slice(name.length + 1))))
      entry.odd.push(entry.start);
    let address = "";
    let within = false;
    for (; at < lines.length && /^ {2}/.test(lines[at]); at++) {
      const [, field, said] = /^ {2}(\w+) "?([^"]*)"?$/.exec(lines[at]) ?? [];
      if (field === "version" && entry.version === "") entry.version = said;
      else if (field === "resolved" && address === "") address = said;
      else if (field === "integrity" && entry.hash === "" && HASH.test(said)) entry.hash = said;
      else if (/^ {2}(?:dependencies|optionalDependencies):$/.test(lines[at])) within = true;
      else if (!within || !/^ {4}"?[@\w./-]+"? "?[^":/]*"?$/.test(lines[at])) entry.odd.push(at);
    }
    entry.end = at;
    entry.hash ||= /#([0-9a-f]{40})$/.exec(address)?.[1] ?? "";
    entry.host = registryHost(address, name, entry.version);
    result.push(entry);
  }
  return result;
}
