import * as v from "valibot";
import { proverOf, revokedText, vouchedText } from "./keys";

/** What a ledger brings along beside its entries: who people are, and keys with who vouches for them. It says so itself; whom to believe is for who reads. */

export const person = v.object({ id: v.string(), name: v.string(), fullName: v.string() });
export type LedgerPerson = v.InferOutput<typeof person>;
const keyFile = v.object({ kind: v.literal("ed25519"), public: v.string() });
const vouchedFile = v.object({
  ...{ key: v.string(), person: v.string() },
  signature: v.object({ key: v.string(), value: v.string() }),
});

/** The files of a ledger under a prefix, by what stands behind it; those of another shape are left out. */
export function readNamed<S extends v.GenericSchema>(files: ReadonlyMap<string, string>, prefix: string, schema: S) {
  return new Map(
    [...files].flatMap(([path, text]): [string, v.InferOutput<S>][] => {
      if (!path.startsWith(prefix)) return [];
      const read = v.safeParse(v.pipe(v.string(), v.parseJson(), schema), text);
      return read.success ? [[path.slice(prefix.length, -".json".length), read.output]] : [];
    }),
  );
}

/** The keys that a ledger brings along, by their ids: DER (SPKI), in base64. They say nothing of whom they are. */
export function readKeys(files: ReadonlyMap<string, string>): Map<string, string> {
  return new Map([...readNamed(files, "keys/", keyFile)].map(([id, key]) => [id, key.public]));
}

/** The keys that a believed one vouches for, with whose they are. One that is believed itself needs nobody's word. */
function vouchedBy(
  files: Iterable<v.InferOutput<typeof vouchedFile>>,
  believed: ReadonlySet<string>,
  proves: ReturnType<typeof proverOf>,
): Map<string, { person: string; by: string }> {
  const vouched = new Map<string, { person: string; by: string }>();
  for (const { key, person: of, signature } of files)
    if (!believed.has(key) && proves(signature.key, vouchedText({ key, person: of }), signature.value))
      vouched.set(key, { person: of, by: signature.key });
  return vouched;
}

const revokedFile = v.object({
  ...{ key: v.string(), entries: v.array(v.string()) },
  signature: v.object({ key: v.string(), value: v.string() }),
});

/** The keys that a believed one has revoked, with the entries of this ledger that count still. Where it did so twice, what both have counts. */
function revokedBy(
  files: ReadonlyMap<string, string>,
  believed: ReadonlySet<string>,
  proves: ReturnType<typeof proverOf>,
): Map<string, Set<string>> {
  const revoked = new Map<string, Set<string>>();
  for (const { key, entries, signature } of readNamed(files, "revoked/", revokedFile).values()) {
    if (believed.has(key) || !proves(signature.key, revokedText({ key, entries }), signature.value)) continue;
    const before = revoked.get(key);
    revoked.set(key, new Set(before ? entries.filter((id) => before.has(id)) : entries));
  }
  return revoked;
}

/** What a ledger's signatures prove to who believes some keys: those and the ones that they vouch for, as far as these were not revoked. */
export function ledgerProver(
  files: ReadonlyMap<string, string>,
  believed: ReadonlySet<string>,
): { proves: ReturnType<typeof proverOf>; vouches: Map<string, { person: string; by: string }> } {
  const keys = readKeys(files);
  const proverWith = (ids: ReadonlySet<string>) =>
    proverOf([...keys].flatMap(([id, key]) => (ids.has(id) ? [key] : [])));
  const own = proverWith(believed);
  const vouches = vouchedBy(readNamed(files, "vouched/", vouchedFile).values(), believed, own);
  const revoked = revokedBy(files, believed, own);
  const all = proverWith(new Set([...believed, ...vouches.keys()]));
  return {
    vouches,
    proves: (key, text, signature) => {
      const left = revoked.get(key);
      return (left === undefined || left.has(JSON.parse(text).id)) && all(key, text, signature);
    },
  };
}

/** An entry as of somebody who has another id here than where they signed it, wherever it names them. */
export function asPerson<E extends { by: string }>(event: E, person: string): E {
  return JSON.parse(JSON.stringify(event).replaceAll(`"${event.by}"`, `"${person}"`));
}
