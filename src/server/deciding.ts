import { done, type Outcome, refuse } from "@/core/outcome";
import { type Command, decide } from "@/core/review/decide";
import type { NewEvent, ReviewEvent } from "@/core/review/events";
import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "@/store/database";
import { append, loadChangeSet } from "@/store/log";
import { factsFor } from "./facts";
import type { Lens } from "./lens";
import type { Person } from "./people";

/** Decides a command in a transaction of its own. */
export function transact(
  lens: Lens,
  person: Person,
  id: string,
  command: Command,
  key?: string,
): Promise<Outcome<ChangeSet>> {
  return lens.db.transaction().execute((tx) => commit(lens, tx, person, id, command, key));
}

/**
 * Loads, decides and appends: all in the transaction given, so that nothing can come in between. A key that was carried out before does
 * nothing again.
 */
export async function commit(
  lens: Lens,
  tx: Queries,
  person: Person,
  id: string,
  command: Command,
  key?: string,
): Promise<Outcome<ChangeSet>> {
  const change = await loadChangeSet(tx, id);
  if (!change) return refuse("missing", "There is no such change set.");
  if (key && (await wasCarriedOut(tx, person, key))) return done(change);
  const decision = decide(change, command, await factsFor(lens, tx, change, person));
  if (!decision.ok) return decision;
  if (key) await tx.insertInto("carried").values({ key, person: person.id, at: lens.now() }).execute();
  return done(await append(tx, change, stamp(lens, id, person, decision.value)));
}

export function stamp(lens: Lens, stream: string, person: { id: string }, event: NewEvent): ReviewEvent {
  return { ...event, id: lens.newId(), stream, version: 1, by: person.id, at: lens.now() } as ReviewEvent;
}

/** Whether a command with this key of this person was carried out before. */
export async function wasCarriedOut(db: Queries, person: Person, key: string): Promise<boolean> {
  const row = await db
    .selectFrom("carried")
    .select("key")
    .where("key", "=", key)
    .where("person", "=", person.id)
    .executeTakeFirst();
  return row !== undefined;
}
