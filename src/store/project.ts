import { type Selectable, sql } from "kysely";
import { checksSay, moversOf, turnOf, wordsOf } from "@/core/house/lists/listed";
import { type ChangeSet, newest, peopleOf } from "@/core/review/state";
import type { Queries } from "./database";
import type { ChangeSetPeopleTable, ChangeSetsTable } from "./tables/log";

/** Raise it when lists know something more or otherwise: those of an older installation are made again when it is opened. */
const PROJECTION = 4;

/** Makes the lists again by `rebuild` where they are as an older version made them. */
export async function bringUpToDate(db: Queries, rebuild: (db: Queries) => Promise<unknown>): Promise<void> {
  const { rows } = await sql<{ user_version: number }>`pragma user_version`.execute(db);
  if (rows[0].user_version >= PROJECTION) return;
  await rebuild(db);
  await sql.raw(`pragma user_version = ${PROJECTION}`).execute(db);
}

/** Writes what lists need to know of a change set, from nothing but its state; so a rebuild cannot come out different. */
export async function project(db: Queries, change: ChangeSet): Promise<void> {
  const row = rowOf(change);
  // The index of words goes by numbers: a new one gets the next, which stays its own when the file is packed.
  const { words } = await db
    .insertInto("change_sets")
    .values({ ...row, words: sql<number>`(select coalesce(max(words), 0) + 1 from change_sets)` })
    .onConflict((conflict) => conflict.column("id").doUpdateSet(row))
    .returning("words")
    .executeTakeFirstOrThrow();
  const rows = peopleRowsOf(change);
  await db.deleteFrom("change_set_people").where("change_set", "=", change.id).execute();
  await db
    .insertInto("change_set_people")
    .values(rows)
    .onConflict((conflict) => conflict.doNothing())
    .execute();
  await db.deleteFrom("change_labels").where("change_set", "=", change.id).where("by_path", "=", 0).execute();
  if (change.labels.length > 0)
    await db
      .insertInto("change_labels")
      .values(change.labels.map((label) => ({ change_set: change.id, label, by_path: 0 })))
      .execute();
  await db.deleteFrom("change_words").where("rowid", "=", words).execute();
  await db
    .insertInto("change_words")
    .values({ rowid: words!, ...wordsOf(change) })
    .execute();
}

/** What lists know of a change set. */
export function rowOf(change: ChangeSet): Omit<Selectable<ChangeSetsTable>, "words"> {
  return {
    id: change.id,
    repository: change.repository,
    number: change.number,
    title: change.title,
    author: change.author,
    state: change.state,
    source: change.source,
    target: change.target,
    revision: newest(change).number,
    head: newest(change).head,
    open_threads: change.threads.filter((thread) => thread.resolved === null).length,
    opened_at: change.openedAt,
    changed_at: change.changedAt,
    settled_at: change.settled?.at ?? null,
    merge_asked: change.mergeAsked ? 1 : 0,
    turn: turnOf(change),
    checks: checksSay(change),
  };
}

/** Stands for whoever has a role, where all of them are asked. */
export function anyOf(role: string): string {
  return `any ${role}`;
}

/** Who has to do with it, as lists know them: people by their ids, and roles of which anyone is asked. */
export function peopleRowsOf(change: ChangeSet): ChangeSetPeopleTable[] {
  const people = peopleOf(change);
  if (change.mergeFailed) people.add(change.mergeFailed.asker);
  for (const one of change.asked) if ("role" in one) people.add(anyOf(one.role));
  const asked = change.state === "draft" ? [] : [...change.asked, ...change.again];
  const isAsked = new Set(asked.map((one) => ("role" in one ? anyOf(one.role) : one.person)));
  const movers = moversOf(change);
  const moves = new Set([...movers.people, ...[...movers.roles].map(anyOf)]);
  return [...people].map((person) => ({
    change_set: change.id,
    person,
    asked: isAsked.has(person) ? 1 : 0,
    moves: moves.has(person) ? 1 : 0,
  }));
}

/** Takes out what lists know of change sets that are not in the log. Nothing else may be lost by it: other tables hang on these rows. */
export async function dropAllBut(db: Queries): Promise<void> {
  const streams = db.selectFrom("events").select("stream");
  const gone = db.selectFrom("change_sets").select("words").where("id", "not in", streams);
  await db.deleteFrom("change_words").where("rowid", "in", gone).execute();
  await db.deleteFrom("change_set_people").where("change_set", "not in", streams).execute();
  await db.deleteFrom("change_labels").where("change_set", "not in", streams).execute();
  await db.deleteFrom("change_sets").where("id", "not in", streams).execute();
}
