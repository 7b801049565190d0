import { addTo } from "../../plain/grouped";
import { inFigures, shortened } from "../../plain/words";
import type { ClassedFile, Side } from "../classes";

/**
 * What a program wrote to pin what is depended on, as it changed: told as a sum, so that its lines need not be read one by one. What the sum
 * does not tell, or what is odd, stays to be read.
 */
export interface LockSummary {
  added: { name: string; version: string }[];
  removed: { name: string; version: string }[];
  changed: { name: string; from: string; to: string }[];
  /** What is odd, each in a sentence, and how much more there is of it. */
  concerns: string[];
}

/** One thing that is pinned. Lines are 0-based, end exclusive. */
interface Pinned {
  /** What names it in both states. */
  key: string;
  name: string;
  version: string;
  /** Where it is fetched from, without what the name and the version say of it; null where that does not fit the two, "" for nowhere. */
  host: string | null;
  hash: string;
  runsScript: boolean;
  start: number;
  end: number;
  /** Lines that are not understood. */
  odd: number[];
}

interface LockKind {
  name: RegExp;
  read: (lines: readonly string[]) => Pinned[] | null;
}

const KINDS: readonly LockKind[] = [
  { name: /(?:^|\/)(?:package-lock|npm-shrinkwrap)\.json$/, read: readNpm },
  { name: /(?:^|\/)yarn\.lock$/, read: readYarn },
  { name: /(?:^|\/)Cargo\.lock$/, read: readCargo },
  { name: /(?:^|\/)go\.sum$/, read: readGo },
];

/** So long may a name with its version be, in UTF-16 units: no registry takes one of more. */
const LONGEST = 600;
/** So many sentences about what is odd in one way are told one by one. */
const MOST_CONCERNS = 100;

/** Names of files that pin what is depended on, known kinds and others. */
export const LOCKFILE =
  /(?:^|\/)(?:package-lock\.json|npm-shrinkwrap\.json|yarn\.lock|pnpm-lock\.yaml|bun\.lock|deno\.lock|Cargo\.lock|poetry\.lock|uv\.lock|Pipfile\.lock|Gemfile\.lock|composer\.lock|go\.sum|flake\.lock|mix\.lock|packages\.lock\.json)$/;

/**
 * Sums up how a lockfile of a known kind changed and classes the lines that the sum tells: those of entries that came, went or have another
 * version now, when they are made of what is known, are fetched from a host that was there before, and run no script of their own.
 * Null when the file is not of a known kind, or not written as its program writes it: then all of it is to be read.
 */
export function classLockfile(file: ClassedFile): LockSummary | null {
  const kind = KINDS.find(({ name }) => name.test(file.path) && name.test(file.oldPath));
  if (!kind || file.copy || file.old.length === 0 || file.next.length === 0) return null;
  const old = kind.read(file.old);
  const next = kind.read(file.next);
  if (!old || !next || [...old, ...next].some(({ name, version }) => name.length + version.length > LONGEST))
    return null;
  const hosts = new Set(old.map(({ host }) => host));
  const before = new Map(old.map((entry) => [entry.key, entry]));
  const after = new Map(next.map((entry) => [entry.key, entry]));
  if (before.size !== old.length || after.size !== next.length) return null;
  const summary: LockSummary = { added: [], removed: [], changed: [], concerns: [] };
  /** By what is odd about them: many of one kind hide none of another. */
  const found = new Map<string, string[]>();
  const quiet = (side: Side, { start, end, odd }: Pinned) => {
    for (let line = start; line < end; line++) if (!odd.includes(line)) file.set(side, line, "generated");
  };
  const named = ({ name, version }: Pinned) => `${name} ${version}`;
  for (const entry of next) {
    const was = before.get(entry.key);
    const concerns: [kind: string, says: string][] = [];
    const concern = (kind: string, says: string) => concerns.push([kind, `${named(entry)} ${says}`]);
    if (entry.host === null) concern("address", "is fetched from an address that does not fit its name and version.");
    else if (!hosts.has(entry.host))
      concern(
        "host",
        `is fetched from ${shortened(entry.host, LONGEST) || "nowhere"}, which nothing was fetched from before.`,
      );
    else if (was && was.host !== entry.host)
      concern("moved", `is fetched from another place: ${shortened(entry.host, LONGEST)}.`);
    if (entry.runsScript && !was?.runsScript) concern("script", "runs a script when it is installed.");
    if (was && was.version === entry.version && was.hash !== entry.hash)
      concern("hash", "has another hash under the same version.");
    const same = was && was.version === entry.version;
    if (!was) summary.added.push({ name: entry.name, version: entry.version });
    else if (!same) summary.changed.push({ name: entry.name, from: was.version, to: entry.version });
    if (isTouched(file, "new", entry)) for (const [kind, says] of concerns) addTo(found, kind, says);
    if (concerns.length > 0 || same) continue;
    quiet("new", entry);
    if (was) quiet("old", was);
  }
  for (const entry of old) {
    if (after.has(entry.key)) continue;
    summary.removed.push({ name: entry.name, version: entry.version });
    quiet("old", entry);
  }
  // What is rarest first: it is what somebody would hide among the others.
  summary.concerns = [...found.values()].sort((a, b) => a.length - b.length).flatMap(inShort);
  return summary;
}

function inShort(concerns: readonly string[]): string[] {
  const more = concerns.length - MOST_CONCERNS;
  if (more <= 0) return [...concerns];
  const rest = `The same is to be said ${inFigures(more)} times more: the lines are to be read.`;
  return [...concerns.slice(0, MOST_CONCERNS), rest];
}

function isTouched(file: ClassedFile, side: Side, { start, end }: Pinned): boolean {
  for (let line = start; line < end; line++) if (file.isOpen(side, line)) return true;
  return false;
}

/** An entry of which nothing is known yet but where it begins. */
function pinned(key: string, name: string, start: number): Pinned {
  return { key, name, version: "", host: "", hash: "", runsScript: false, start, end: start, odd: [] };
}

/** Where an archive of npm's registry lies, without its name and version; null when they do not fit. */
function npmHost(address: string, name: string, version: string): string | null {
  const bare = name.slice(name.lastIndexOf("/") + 1);
  const tail = `/${name}/-/${bare}-${version}.tgz`;
  const plain = address.replace(/#[0-9a-f]{40}$/, "").replace("%2f", "/");
  if (!plain.startsWith("https://") || !plain.endsWith(tail)) return null;
  const host = plain.slice(0, -tail.length);
  return /[?#@\s]/.test(host) ? null : host;
}

const HASH = /^(?:sha512-[\w+/]{86}==|sha1-[\w+/]{27}=)$/;

function readNpm(lines: readonly string[]): Pinned[] | null {
  // Only as npm writes it: then what a line says can be told from its indentation.
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
        else if (
          !/^(?:dependencies|peerDependencies|optionalDependencies|peerDependenciesMeta|engines|bin|funding|os|cpu|libc)$/.test(
            within,
          ) ||
          (/npm:|:\/\/|git/.test(lines[at]) && within !== "funding")
        )
          entry.odd.push(at);
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
      else if (!/^(?:dev|optional|peer|devOptional|license|deprecated|engines)$/.test(field)) entry.odd.push(at);
    }
    if (rest === "") at++;
    entry.end = at;
    // The project itself, and what lies in it, is no package that was fetched.
    if (!key.includes("node_modules/")) continue;
    entry.host = address === "" ? "" : npmHost(address, entry.name, entry.version);
    result.push(entry);
  }
  return result;
}

function readYarn(lines: readonly string[]): Pinned[] | null {
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
      if (field === "version") entry.version = said;
      else if (field === "resolved") address = said;
      else if (field === "integrity" && HASH.test(said)) entry.hash = said;
      else if (/^ {2}(?:dependencies|optionalDependencies):$/.test(lines[at])) within = true;
      else if (!within || !/^ {4}"?[@\w./-]+"? "?[^":/]*"?$/.test(lines[at])) entry.odd.push(at);
    }
    entry.end = at;
    entry.hash ||= /#([0-9a-f]{40})$/.exec(address)?.[1] ?? "";
    entry.host = npmHost(address, name, entry.version);
    result.push(entry);
  }
  return result;
}

function readCargo(lines: readonly string[]): Pinned[] | null {
  const result: Pinned[] = [];
  const versions = new Map<string, number>();
  for (let at = 0; at < lines.length; at++) {
    if (lines[at] !== "[[package]]") continue;
    const entry = pinned("", "", at++);
    let within = false;
    for (; at < lines.length && lines[at] !== ""; at++) {
      const [, field, said] = /^(\w+) = "([^"]*)"$/.exec(lines[at]) ?? [];
      if (field === "name") entry.name = said;
      else if (field === "version") entry.version = said;
      else if (field === "source") entry.host = /^registry\+https:\/\/\S+$/.test(said) ? said : null;
      else if (field === "checksum" && /^[0-9a-f]{64}$/.test(said)) entry.hash = said;
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

function readGo(lines: readonly string[]): Pinned[] | null {
  const result: Pinned[] = [];
  for (const [at, line] of lines.entries()) {
    const [, name, version, hash] = /^(\S+) (v\S+) (h1:[\w+/]{43}=)$/.exec(line) ?? [];
    if (name === undefined) return null;
    result.push({
      key: `${name} ${version}`,
      name,
      version,
      host: "",
      hash,
      runsScript: false,
      start: at,
      end: at + 1,
      odd: [],
    });
  }
  return result;
}
