import { claimOf, readKeyLine } from "@/core/doors/ledger/key-line";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { CloneKeyView } from "@/core/views/access-view";
import { audit, type Doer } from "../access/audit";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { takeWaiting } from "./handed";
import { keyId, ledgerKey, proverOf } from "./keys";

/** So many clones can one person sign from at a time. */
const MOST_KEYS = 20;

/** The clones of a person, the newest first, those that count no more too. */
export async function cloneKeysOf(app: AppContext, person: { id: string }): Promise<CloneKeyView[]> {
  const rows = await app.db
    .selectFrom("clone_keys")
    .select(["key", "label", "added_at", "used_at", "revoked_at"])
    .where("person", "=", person.id)
    .orderBy("added_at", "desc")
    .execute();
  return rows.map(({ added_at, used_at, revoked_at, ...rest }) => ({
    ...rest,
    addedAt: added_at,
    usedAt: used_at,
    revokedAt: revoked_at,
  }));
}

/**
 * Takes the word of a person that a clone is theirs: from now on what its key signs is theirs. Refused where they do not have the key itself, where it is
 * somebody's already, and for machines, whose word counts in no review.
 */
export async function addCloneKey(
  app: AppContext,
  person: Person,
  { line, label }: { line: string; label: string },
  doer: Doer,
): Promise<Outcome<CloneKeyView[]>> {
  if (person.machine) return refuse("forbidden", "Clones are of people: what a machine signs counts in no review.");
  const read = readKeyLine(line);
  if (!read) return refuse("invalid", "That is no line of lens key: paste the whole of what it printed.");
  const key = keyId(Buffer.from(read.public, "base64"));
  if (!proverOf([read.public])(key, claimOf(person.name), read.signature))
    return refuse("invalid", `This line is not for you: in the clone, run lens key ${person.name}`);
  const own = await ledgerKey(app);
  const known = await app.db.selectFrom("clone_keys").selectAll().where("key", "=", key).executeTakeFirst();
  if (known || key === own.id)
    return refuse(
      "conflict",
      known?.person !== person.id
        ? "This key is somebody else’s already."
        : known.revoked_at === null
          ? "This clone is yours already."
          : "This key was revoked: make another one with lens key --new.",
    );
  const living = (await cloneKeysOf(app, person)).filter(({ revokedAt }) => revokedAt === null);
  if (living.length >= MOST_KEYS)
    return refuse("conflict", `${MOST_KEYS} clones are the most: revoke those that are no longer used.`);
  await app.db
    .insertInto("clone_keys")
    .values({
      key,
      public: read.public,
      person: person.id,
      label: label.trim().slice(0, 100) || "a clone",
      added_at: app.now(),
      used_at: null,
      revoked_at: null,
      told_at: null,
    })
    .execute();
  await audit(app, doer, "clone-key-added", { for: person.name, label, key });
  await takeWaiting(app, person, key);
  return done(await cloneKeysOf(app, person));
}

/** Nothing new that a key signs is taken in any more; what was taken in stays. Of others only administrators can. */
export async function revokeCloneKey(
  app: AppContext,
  person: Person,
  key: string,
  doer: Doer,
): Promise<Outcome<CloneKeyView[]>> {
  let query = app.db
    .updateTable("clone_keys")
    .set({ revoked_at: app.now() })
    .where("key", "=", key)
    .where("revoked_at", "is", null);
  if (!person.administrator) query = query.where("person", "=", person.id);
  const gone = await query.returning("label").executeTakeFirst();
  if (!gone) return refuse("missing", "There is no such clone of yours.");
  await audit(app, doer, "clone-key-revoked", { label: gone.label, key });
  // Said in the ledgers by who writes them: soon, and also where this server ends at this moment.
  app.bell.ring();
  return done(await cloneKeysOf(app, person));
}

/** Which key this server signs with: whoever takes its ledgers in says that they believe it. */
export async function ownKeyId(app: AppContext): Promise<string> {
  return (await ledgerKey(app)).id;
}
