import { canonical } from "@/core/doors/ledger/canonical";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { whyNotBetween } from "@/core/review/between";
import { decide, needsOf } from "@/core/review/decide";
import { wrongThere } from "@/core/review/elsewhere";
import type { NewEvent, ReviewEvent } from "@/core/review/events";
import type { Command, CommandName, CommandOf } from "@/core/review/families/table";
import type { ChangeSet } from "@/core/review/state";
import type { Queries } from "@/store/database";
import { append, eventsOf, loadChangeSet, standOf, takeIn } from "@/store/log";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { beganElsewhere } from "../ledger/people-elsewhere";
import { factsNeeded, type GitFacts, gitFactsFor } from "../rules/facts";
import { ruleFor, ruleVersion } from "../rules/rules";

/** How often it is begun anew when something came in between; more often than that others are at it all the time. */
const MOST_TRIES = 20;

/** A change set as it was when the facts were found out, and how to tell whether it still is. */
export interface Prepared {
  change: ChangeSet;
  stand: string | null;
  rules: number | null;
  git: GitFacts | null;
}

/** Loads a change set and finds out what a kind of command needs to know: before any transaction, so that nobody waits for git. */
export async function prepare(app: AppContext, id: string, kind: CommandName): Promise<Prepared | null> {
  const stand = await standOf(app.db, id);
  const change = await loadChangeSet(app.db, id);
  if (!change) return null;
  const rules = await ruleVersion(app.db, change.repository);
  const git = needsOf(kind).includes("gate")
    ? await gitFactsFor(app, change, await ruleFor(app.db, change.repository, change.target), { patient: true })
    : null;
  return { change, stand, rules, git };
}

/** Whether nothing came in between: asked in the transaction in which it is decided. */
export async function stillSo(db: Queries, { change, stand, rules }: Prepared): Promise<boolean> {
  if ((await standOf(db, change.id)) !== stand) return false;
  return (await ruleVersion(db, change.repository)) === rules;
}

/** The decision of a command; within the transaction nothing but the database is asked. */
export async function decided<K extends CommandName>(
  app: AppContext,
  db: Queries,
  { change, git }: Pick<Prepared, "change" | "git">,
  person: Person,
  command: CommandOf<K>,
): Promise<Outcome<NewEvent>> {
  const { archived_at, name } = await db
    .selectFrom("repositories")
    .select(["archived_at", "name"])
    .where("id", "=", change.repository)
    .executeTakeFirstOrThrow();
  if (archived_at !== null) return refuse("forbidden", `${name} is archived: it is read, and nothing in it changes.`);
  const there = !app.settings.alone && (await beganElsewhere(db, change)) ? wrongThere(command) : null;
  if (there) return refuse("forbidden", there);
  return decide(change, command, await factsNeeded<K>(app, db, command.kind, change, person, git));
}

interface Carrying {
  /** The same command with the same key of the same person is carried out once. */
  key?: string;
  /** What else has to be so, as far as the database tells. */
  unless?: (tx: Queries) => Promise<Outcome<never> | null>;
  /** What else belongs to it, in the same transaction; told what the change set was before. */
  also?: (tx: Queries, before: ChangeSet) => Promise<void>;
  /** It happened elsewhere, as this entry tells, under whose id it is kept. Refused where it would come out differently here. */
  as?: ReviewEvent;
  /** With `as`: what was found out here stands in the place of what the entry says of it. */
  anew?: boolean;
}

/**
 * The one way in which a change set changes: found out, then decided, written and projected in one short transaction; begun anew when
 * something came in between. `command` may be made within the transaction, of what the database has.
 */
export async function execute<K extends CommandName>(
  app: AppContext,
  person: Person,
  id: string,
  kind: K,
  command: CommandOf<K> | ((tx: Queries) => Promise<CommandOf<K>>),
  { key, unless, also, as, anew = false }: Carrying = {},
): Promise<Outcome<ChangeSet>> {
  for (let n = 0; n < MOST_TRIES; n++) {
    const prepared = await prepare(app, id, kind);
    if (!prepared) return refuse("missing", "There is no such change set.");
    const outcome = await app.db.transaction().execute(async (tx): Promise<Outcome<ChangeSet> | null> => {
      if (key && (await wasCarriedOut(tx, person, key))) return done((await loadChangeSet(tx, id)) ?? prepared.change);
      if (!(await stillSo(tx, prepared))) return null;
      const hindrance = await unless?.(tx);
      if (hindrance) return hindrance;
      const { change } = prepared;
      const asked: CommandOf<K> = typeof command === "function" ? await command(tx) : command;
      const decision = await decided(app, tx, prepared, person, asked);
      if (!decision.ok) return decision;
      const entry = as && ({ ...as, data: decision.value.data } as ReviewEvent);
      if (as && !anew && canonical(decision.value.data) !== canonical(as.data))
        return refuse("conflict", "It says something else than it would here.");
      // Nearly all come last: the log is read for those that do not.
      const misplaced = entry && entry.id < change.last ? whyNotBetween(await eventsOf(tx, id), entry) : null;
      if (misplaced !== null) return refuse("conflict", misplaced);
      if (key) await tx.insertInto("carried").values({ key, person: person.id, at: app.now() }).execute();
      await also?.(tx, change);
      if (entry) {
        await takeIn(tx, [entry]);
        return done((await loadChangeSet(tx, id)) ?? change);
      }
      return done(await append(tx, change, stamp(app, change, person, decision.value)));
    });
    if (outcome?.ok) app.bell.ring();
    if (outcome) return outcome;
  }
  return refuse("conflict", "Others are changing this change set all the time. Try again in a moment.");
}

/** {@link execute} with a command that is there already. */
export function transact(
  app: AppContext,
  person: Person,
  id: string,
  command: Command,
  carrying: Carrying = {},
): Promise<Outcome<ChangeSet>> {
  return execute<CommandName>(app, person, id, command.kind, command, carrying);
}

/**
 * An event as it is written: its id and time are those of now, in the transaction, so that the order of ids is the order of events. `last` is the id of
 * the last event of its change set, where there is one.
 */
export function stamp(
  app: AppContext,
  { id: stream, last }: { id: string; last?: string },
  person: { id: string },
  event: NewEvent,
): ReviewEvent {
  return { ...event, id: app.newId(last), stream, version: 1, by: person.id, at: app.now() } as ReviewEvent;
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
