import * as v from "valibot";
import { wrongIn } from "../../plain/shape";
import { whyNot } from "../../review/allowed";
import type { ReviewEvent } from "../../review/events";
import { evolve, wrongShape } from "../../review/evolve";
import { type ChangeSet, offersBranch } from "../../review/state";
import { hidingName } from "../../rules/ref-name";
import { canonical } from "./canonical";

/** The version of the format, as the file `format` of a ledger says it. */
export const FORMAT = "1";

const ulid = v.pipe(v.string(), v.regex(/^[0-9A-HJKMNP-TV-Z]{26}$/));
const event = v.strictObject({
  ...{ id: ulid, stream: ulid, kind: v.string(), version: v.number(), by: ulid, at: v.number() },
  data: v.record(v.string(), v.unknown()),
});

/** One entry: an event, and who vouches for it. The signature is Ed25519 over the canonical JSON of the event, in base64. */
export const ledgerEntry = v.strictObject({ event, signature: v.strictObject({ key: v.string(), value: v.string() }) });
export type LedgerEntry = v.InferOutput<typeof ledgerEntry>;

/** What an event is signed over. */
export function signedText(of: LedgerEntry["event"]): string {
  return canonical(of);
}

/** An event as an entry holds it: without what only one installation knows. */
export function entryOf({ id, stream, kind, version, by, at, data }: ReviewEvent): LedgerEntry["event"] {
  return { id, stream, kind, version, by, at, data: data as Record<string, unknown> };
}

/** The path of an entry in the tree of a ledger. */
export function entryPath(id: string): string {
  return `events/${id}.json`;
}

/**
 * Why a ledger cannot be read, by what its file `format` says (undefined where it has none); null where it can.
 *
 * @example wrongFormat("2\n") // "it is of format 2, which is newer than what is read here"
 */
export function wrongFormat(text: string | undefined): string | null {
  const said = (text ?? FORMAT).trim();
  if (said === FORMAT) return null;
  if (!/^\d{1,9}$/.test(said)) return "its format is none that is known here";
  return `it is of format ${said}, which is ${Number(said) > Number(FORMAT) ? "newer" : "older"} than what is read here`;
}

/** An entry that does not count, and why. */
export interface LeftOut {
  id: string;
  why: string;
}

/**
 * What a ledger says: the state that its proven entries make, and the others with their reasons. It depends on nothing but the set of entries: neither on their
 * order nor on how often each is there. `proves` tells whether a signature is that of a known key.
 */
export function readLedger(
  stream: string,
  files: Iterable<readonly [name: string, text: string]>,
  proves: (key: string, text: string, signature: string) => boolean,
): { change: ChangeSet | null; leftOut: LeftOut[] } {
  const { proven, leftOut } = provenEntries(stream, files, proves);
  let change: ChangeSet | null = null;
  for (const { event: one } of proven) {
    const { id } = one;
    const why = impossible(change, one as unknown as ReviewEvent);
    if (why !== null) leftOut.push({ id, why });
    else change = evolve(change, one as unknown as ReviewEvent);
  }
  return { change, leftOut: leftOut.sort((a, b) => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0)) };
}

/** The entries of a ledger that somebody known vouches for, in their order, each once; and the others with their reasons. */
export function provenEntries(
  stream: string,
  files: Iterable<readonly [name: string, text: string]>,
  proves: (key: string, text: string, signature: string) => boolean,
): { proven: LedgerEntry[]; leftOut: LeftOut[] } {
  const leftOut: LeftOut[] = [];
  const known = new Map<string, LedgerEntry>();
  for (const [name, text] of files) {
    const id = /^(?:events\/)?([0-9A-Z]{26})\.json$/.exec(name)?.[1] ?? name;
    const entry = readEntry(text);
    const why = typeof entry === "string" ? entry : wrongEntry(entry, id, stream, proves);
    if (why !== null) leftOut.push({ id, why });
    else known.set(id, entry as LedgerEntry);
  }
  return { proven: [...known.keys()].sort().map((id) => known.get(id)!), leftOut };
}

/** An entry as its file has it, be it proven or not; null for what is none. */
export function readLedgerEntry(text: string): LedgerEntry | null {
  const entry = readEntry(text);
  return typeof entry === "string" ? null : entry;
}

function readEntry(text: string): LedgerEntry | string {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return "it is no JSON";
  }
  const parsed = v.safeParse(ledgerEntry, json);
  return parsed.success ? parsed.output : `it is no entry: ${wrongIn(parsed.issues, "the whole")}`;
}

function wrongEntry(
  { event: one, signature }: LedgerEntry,
  id: string,
  stream: string,
  proves: (key: string, text: string, signature: string) => boolean,
): string | null {
  if (one.id !== id) return "it is in the file of another entry";
  if (one.stream !== stream) return "it is of another change set";
  if (!proves(signature.key, signedText(one), signature.value)) return "it is unproven: no known key signed it";
  const event = one as unknown as ReviewEvent;
  // What offers no branch is its reader's alone, and nobody else has it: it is in no ledger.
  return (
    wrongShape(event) ??
    (event.kind === "opened" && !offersBranch(event.data) ? "its source is called as no branch can be" : null) ??
    wrongBranches(event)
  );
}

/** No server takes such names; they would be read as others in every sentence. */
function wrongBranches(event: ReviewEvent): string | null {
  const names =
    event.kind === "opened"
      ? [event.data.source, event.data.target]
      : event.kind === "retargeted"
        ? [event.data.target]
        : [];
  const name = hidingName(...names);
  return name === null ? null : `it names a branch with signs that cannot be seen: ${name}`;
}

/** Why an event cannot have happened to a change set as it is; null where it can. The same wherever it is asked. */
function impossible(change: ChangeSet | null, one: ReviewEvent): string | null {
  const why = whyNot(change, one);
  if (why !== null) return why;
  try {
    evolve(change, one);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}
