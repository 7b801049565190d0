import {
  createHash,
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  type KeyObject,
  sign,
  verify,
} from "node:crypto";
import { canonical } from "@/core/doors/ledger/canonical";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";

/** What this installation signs the entries of ledgers with. */
export interface LedgerKey {
  id: string;
  /** DER of the public key (SPKI), in base64. */
  public: string;
  sign: (text: string) => string;
}

const LEDGER_KEY = shelf<LedgerKey>("ledger key", 1);

/** Lets the next {@link ledgerKey} of an installation make another key. What the old one signed stays signed by it. */
export async function dropLedgerKey(app: AppContext): Promise<void> {
  await app.db.deleteFrom("secrets").where("name", "=", "ledger key").execute();
  LEDGER_KEY(app).forget("");
}

/** The key of this installation: made when it is first needed, and kept with its other secrets. Ed25519. */
export function ledgerKey(app: AppContext): Promise<LedgerKey> {
  return LEDGER_KEY(app).get("", async () => {
    const made = generateKeyPairSync("ed25519").privateKey.export({ type: "pkcs8", format: "der" }).toString("base64");
    await app.db
      .insertInto("secrets")
      .values({ name: "ledger key", value: made })
      .onConflict((conflict) => conflict.doNothing())
      .execute();
    const row = await app.db
      .selectFrom("secrets")
      .select("value")
      .where("name", "=", "ledger key")
      .executeTakeFirstOrThrow();
    const key = createPrivateKey({ key: Buffer.from(row.value, "base64"), format: "der", type: "pkcs8" });
    const spki = createPublicKey(key).export({ type: "spki", format: "der" });
    return {
      id: keyId(spki),
      public: spki.toString("base64"),
      sign: (text) => sign(null, Buffer.from(text), key).toString("base64"),
    };
  });
}

/** A key is named by its own digest: nobody can put another in its place. */
export function keyId(spki: Buffer): string {
  return createHash("sha256").update(spki).digest("hex").slice(0, 32);
}

/** Tells whether a text was signed by one of some keys, each DER (SPKI) in base64. What is no key is none. */
export function proverOf(keys: readonly string[]): (key: string, text: string, signature: string) => boolean {
  const known = new Map<string, KeyObject>();
  for (const one of keys) {
    const spki = Buffer.from(one, "base64");
    try {
      known.set(keyId(spki), createPublicKey({ key: spki, format: "der", type: "spki" }));
    } catch {
      // It proves nothing, which is all that is asked of it.
    }
  }
  return (key, text, signature) => {
    const of = known.get(key);
    return of?.asymmetricKeyType === "ed25519" && verify(null, Buffer.from(text), of, Buffer.from(signature, "base64"));
  };
}

/** A key that another one speaks for: what it signs is of this person, whatever they are called where they signed it. */
export interface Vouched {
  key: string;
  person: string;
}

/** What is signed to revoke a key: of what it signs in a ledger these entries count, and no other, whatever time they say. */
export function revokedText({ key, entries }: Revoked): string {
  return canonical({ key, entries: [...entries], says: "of what this key signs these alone count" });
}

/** A key that was vouched for and counts no more, and the entries of one ledger that it had signed by then. */
export interface Revoked {
  key: string;
  entries: readonly string[];
}

/** What is signed to vouch for a key. */
export function vouchedText({ key, person }: Vouched): string {
  return canonical({ key, person, says: "what this key signs is of this person" });
}
