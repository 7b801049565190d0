import type { LineAnchor } from "@/core/anchor/anchor";
import { LONGEST_ANCHOR } from "@/core/anchor/anchor";
import type { Unsent, UnsentRequest } from "@/core/api";
import { isBinary, readText } from "@/core/diff/text";
import { done, type Outcome, refuse } from "@/core/outcome";
import { LONGEST_TEXT, MOST_REMARKS } from "@/core/review/decide";
import type { SentRemark } from "@/core/review/events";
import type { ChangeSet } from "@/core/review/state";
import { blobAt, readObject } from "@/git/repository";
import type { Queries } from "@/store/database";
import type { Lens } from "./lens";
import type { Person } from "./people";
import { filesBetween } from "./reading";

/** What a person has written on a change set and not sent, oldest first. Nobody else can ask for it. */
export async function unsentOf(db: Queries, person: Person, change: string): Promise<Unsent[]> {
  const rows = await db
    .selectFrom("unsent")
    .selectAll()
    .where("change_set", "=", change)
    .where("person", "=", person.id)
    .orderBy("id")
    .execute();
  return rows.map(({ id, anchor, body, changed_at }) => ({
    id,
    anchor: anchor ? JSON.parse(anchor) : null,
    body,
    changedAt: changed_at,
  }));
}

/**
 * Keeps what is being typed: makes the note of this id, or changes its words. Where a note stands is settled when it is made; the text
 * of its lines is read from the repository, not believed.
 */
export async function keepUnsent(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  id: string,
  request: UnsentRequest,
): Promise<Outcome<Unsent>> {
  if (!/^[0-9A-Za-z-]{10,40}$/.test(id)) return refuse("invalid", "That is not an id for a note.");
  if (request.body.length > LONGEST_TEXT) {
    return refuse(
      "invalid",
      `A remark has at most ${LONGEST_TEXT.toLocaleString("en")} characters; this one has ${request.body.length.toLocaleString("en")}.`,
    );
  }
  const now = lens.now();
  const known = await lens.db.selectFrom("unsent").selectAll().where("id", "=", id).executeTakeFirst();
  if (known && (known.person !== person.id || known.change_set !== change.id))
    return refuse("missing", "There is no such note of yours.");
  if (known) {
    await lens.db
      .updateTable("unsent")
      .set({ body: request.body, changed_at: now })
      .where("id", "=", id)
      .where("person", "=", person.id)
      .execute();
    return done({ id, anchor: known.anchor ? JSON.parse(known.anchor) : null, body: request.body, changedAt: now });
  }
  const mine = await unsentOf(lens.db, person, change.id);
  if (mine.length >= MOST_REMARKS)
    return refuse("invalid", `One review can carry ${MOST_REMARKS} remarks. Send these first.`);
  if (!request.anchor && mine.some(({ anchor }) => anchor === null))
    return refuse("conflict", "The closing word of this review is being written already.");
  const anchor = request.anchor ? await fixAnchor(lens, change, folder, request.anchor) : done(null);
  if (!anchor.ok) return anchor;
  const kept = anchor.value ? JSON.stringify(anchor.value) : null;
  await lens.db
    .insertInto("unsent")
    .values({
      id,
      change_set: change.id,
      person: person.id,
      anchor: kept,
      body: request.body,
      created_at: now,
      changed_at: now,
    })
    .execute();
  return done({ id, anchor: anchor.value, body: request.body, changedAt: now });
}

export async function dropUnsent(lens: Lens, person: Person, change: ChangeSet, id: string): Promise<Outcome<null>> {
  const { numDeletedRows } = await lens.db
    .deleteFrom("unsent")
    .where("id", "=", id)
    .where("change_set", "=", change.id)
    .where("person", "=", person.id)
    .executeTakeFirst();
  return numDeletedRows > 0n ? done(null) : refuse("missing", "There is no such note of yours.");
}

/** The unsent remarks with words in them, as they go into a review. Call it in the transaction that sends. */
export async function gatherReview(lens: Lens, tx: Queries, person: Person, change: string): Promise<SentRemark[]> {
  const notes = await unsentOf(tx, person, change);
  return notes.flatMap(({ id, anchor, body }) =>
    anchor && body.trim() !== "" ? [{ thread: id, comment: lens.newId(), anchor, body }] : [],
  );
}

/** Checks that the lines exist in that file of that revision, and takes their text down. */
async function fixAnchor(
  lens: Lens,
  change: ChangeSet,
  folder: string,
  asked: NonNullable<UnsentRequest["anchor"]>,
): Promise<Outcome<LineAnchor>> {
  const revision = change.revisions.find(({ number }) => number === asked.revision);
  if (!revision) return refuse("missing", `There is no revision r${asked.revision}.`);
  if (asked.end < asked.start || asked.end - asked.start >= LONGEST_ANCHOR) {
    return refuse(
      "invalid",
      `A remark stands on one line or on several that follow each other, ${LONGEST_ANCHOR} at most.`,
    );
  }
  const commits = asked.side === "new" ? [revision.head] : [revision.base, ...change.revisions.map(({ head }) => head)];
  const changed = await filesBetween(lens, folder, { from: revision.base, to: revision.head });
  const side = asked.side === "new" ? "newId" : "oldId";
  let found = changed.some((file) => file.path === asked.path && file[side] === asked.blob);
  for (const commit of commits) found ||= (await blobAt(folder, commit, asked.path)) === asked.blob;
  if (!found)
    return refuse(
      "missing",
      `${asked.path} is not in r${asked.revision} in that state. A remark stands on a revision: go back to all of it (A) to write one.`,
    );
  const bytes = await readObject(folder, asked.blob);
  if (isBinary(bytes))
    return refuse("invalid", `${asked.path} is not text: a remark cannot stand on one of its lines.`);
  const { lines } = readText(bytes);
  if (asked.end > lines.length)
    return refuse("invalid", `${asked.path} has ${lines.length} lines there; line ${asked.end} is outside of it.`);
  const text = lines.slice(asked.start - 1, asked.end).map((line) => line.slice(0, 2_000));
  return done({ kind: "lines", ...asked, text });
}
