import { addTo } from "../../../plain/grouped";
import { inFigures, shortened } from "../../../plain/words";
import type { ClassedFile, Side } from "../../classes";
import { readCargo } from "./cargo";
import { readGoSum } from "./go-sum";
import { readNpm } from "./npm";
import type { Pinned, ReadPinned } from "./pinned";
import { isOlder } from "./versions";
import { readYarn } from "./yarn";

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

interface LockKind {
  name: RegExp;
  read: ReadPinned;
}

const KINDS: readonly LockKind[] = [
  { name: /(?:^|\/)(?:package-lock|npm-shrinkwrap)\.json$/, read: readNpm },
  { name: /(?:^|\/)yarn\.lock$/, read: readYarn },
  { name: /(?:^|\/)Cargo\.lock$/, read: readCargo },
  { name: /(?:^|\/)go\.sum$/, read: readGoSum },
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
 * version now, when they are made of what is known, are fetched from a host that was there before, can be checked by a hash as they could
 * before, and run no script of their own. Null when the file is not of a known kind, or not written as its program writes it: then all of
 * it is to be read.
 */
export function classLockfile(file: ClassedFile): LockSummary | null {
  const kind = KINDS.find(({ name }) => name.test(file.path) && name.test(file.oldPath));
  if (!kind || file.copy || file.old.length === 0 || file.next.length === 0) return null;
  const old = kind.read(file.old);
  const next = kind.read(file.next);
  if (!old || !next || [...old, ...next].some(({ name, version }) => name.length + version.length > LONGEST))
    return null;
  const before = new Map(old.map((entry) => [entry.key, entry]));
  const after = new Map(next.map((entry) => [entry.key, entry]));
  if (before.size !== old.length || after.size !== next.length) return null;
  const known = knownIn(old);
  const summary: LockSummary = { added: [], removed: [], changed: [], concerns: [] };
  /** By what is odd about them: many of one kind hide none of another. */
  const found = new Map<string, string[]>();
  for (const entry of next) {
    const was = before.get(entry.key);
    const concerns = CONCERNS.flatMap(({ kind, of }) => {
      const says = of(entry, was, known);
      return says === null ? [] : [{ kind, says: `${nameOf(entry)} ${says}` }];
    });
    const same = was && was.version === entry.version;
    if (!was) summary.added.push({ name: entry.name, version: entry.version });
    else if (!same) summary.changed.push({ name: entry.name, from: was.version, to: entry.version });
    if (isTouched(file, entry)) for (const { kind, says } of concerns) addTo(found, kind, says);
    if (concerns.length > 0 || same) continue;
    setQuiet(file, "new", entry, was);
    if (was) setQuiet(file, "old", was, entry);
  }
  for (const entry of old) {
    if (after.has(entry.key)) continue;
    summary.removed.push({ name: entry.name, version: entry.version });
    setQuiet(file, "old", entry, entry);
  }
  // What is rarest first: it is what somebody would hide among the others.
  summary.concerns = [...found.values()].sort((a, b) => a.length - b.length).flatMap(inShort);
  return summary;
}

/** What was pinned before. */
interface Known {
  hosts: ReadonlySet<string | null>;
  /** The hashes of each name with its version: there may be one of each kind. In the order of the file those of the new state come in. */
  hashes: Map<string, Set<string>>;
}

function knownIn(old: readonly Pinned[]): Known {
  const hashes = new Map<string, Set<string>>();
  for (const entry of old) hashes.set(nameOf(entry), (hashes.get(nameOf(entry)) ?? new Set()).add(entry.hash));
  return { hosts: new Set(old.map(({ host }) => host)), hashes };
}

function nameOf({ name, version }: Pinned): string {
  return `${name} ${version}`;
}

interface Concern {
  kind: string;
  /** How a sentence goes on that begins with the name and version; null where nothing is odd. */
  of: (entry: Pinned, was: Pinned | undefined, known: Known) => string | null;
}

/** What may be odd about an entry as it is now. */
const CONCERNS: readonly Concern[] = [
  {
    kind: "address",
    of: ({ host }) => (host === null ? "is fetched from an address that does not fit its name and version." : null),
  },
  {
    kind: "host",
    of: ({ host }, _, { hosts }) =>
      host === null || hosts.has(host)
        ? null
        : `is fetched from ${shortened(host, LONGEST) || "nowhere"}, which nothing was fetched from before.`,
  },
  {
    kind: "moved",
    of: ({ host }, was, { hosts }) =>
      host === null || !hosts.has(host) || !was || was.host === host
        ? null
        : `is fetched from another place: ${shortened(host, LONGEST) || "nowhere"}.`,
  },
  {
    kind: "script",
    of: ({ runsScript }, was) => (runsScript && !was?.runsScript ? "runs a script when it is installed." : null),
  },
  {
    kind: "hash",
    of(entry, _, { hashes }) {
      const known = hashes.get(nameOf(entry));
      if (known?.has(entry.hash)) return null;
      hashes.set(nameOf(entry), (known ?? new Set()).add(entry.hash));
      return known ? "has another hash under the same version." : null;
    },
  },
  {
    kind: "unchecked",
    of: ({ hash, host }, was) =>
      hash === "" && host !== "" && was?.hash !== "" ? "has no hash that what is fetched could be checked by." : null,
  },
  {
    kind: "older",
    of: ({ version }, was) =>
      was && isOlder(version, was.version) ? `goes back to an older version than ${was.version}.` : null,
  },
  {
    kind: "weaker",
    of: ({ hash }, was) =>
      was?.hash.startsWith("sha512-") && hash !== "" && !hash.startsWith("sha512-")
        ? "has a weaker hash than before."
        : null,
  },
];

/** Classes the lines of an entry; of its own ones only those that say what the other state of it says. */
function setQuiet(file: ClassedFile, side: Side, { start, end, odd, own }: Pinned, other?: Pinned): void {
  const toRead = new Set(odd);
  for (const [says, line] of own) if (!other?.own.has(says)) toRead.add(line);
  for (let line = start; line < end; line++) if (!toRead.has(line)) file.set(side, line, "generated");
}

function inShort(concerns: readonly string[]): string[] {
  const more = concerns.length - MOST_CONCERNS;
  if (more <= 0) return [...concerns];
  const rest = `The same is to be said ${inFigures(more)} times more: the lines are to be read.`;
  return [...concerns.slice(0, MOST_CONCERNS), rest];
}

function isTouched(file: ClassedFile, { start, end }: Pinned): boolean {
  for (let line = start; line < end; line++) if (file.isOpen("new", line)) return true;
  return false;
}
