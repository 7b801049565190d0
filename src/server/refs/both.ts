import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { NewEvent } from "@/core/review/events";
import type { Command } from "@/core/review/families/table";
import { type ChangeSet, goesOn } from "@/core/review/state";
import { isAncestor } from "@/git/history/commits";
import { moveBranch, RefStuck } from "@/git/merge";
import { branchCommit } from "@/git/repository";
import type { Queries } from "@/store/database";
import { append, eventsOf, loadChangeSet } from "@/store/log";
import type { RefIntentsTable, RefMovesTable } from "@/store/tables/repositories";
import type { Person } from "../access/person";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { decided, type Prepared, prepare, stamp, stillSo } from "../changes/deciding";
import { noteMove } from "./moves";

/** A branch that is to be moved, and what is to be recorded with it. */
export interface Carried {
  change: ChangeSet;
  person: Person;
  branch: string;
  from: string;
  to: string;
  way: RefMovesTable["way"];
  /** For git's own record of what became of the branch. */
  words: string;
  /** What is decided and recorded; decided before, and again within the transaction. */
  command: Command;
  /** What else has to be so of the change set. */
  unless?: (change: ChangeSet) => Outcome<never> | null;
  /** What else belongs to it. */
  also?: (tx: Queries) => Promise<void>;
}

/**
 * Moves a branch and records it: both, or neither. What git knows is found out, and an intent is written. In one transaction it is decided,
 * the event is written, the intent is ended, and the branch is moved by compare-and-swap: the one word with git that is had in a
 * transaction, so that nobody ever sees the branch there without its being decided. When that transaction fails at its very end, the branch is moved back at
 * once; what cannot be told or undone then stays as an intent, and is settled at intervals and at the next start: see {@link settleIntents}.
 */
export function recordAndMove(app: AppContext, carried: Carried): Promise<Outcome<ChangeSet>> {
  // One after the other for each change set: it has one intent at a time.
  return app.inTurn(`move ${carried.change.id}`, () => inTurn(app, carried));
}

async function inTurn(app: AppContext, carried: Carried): Promise<Outcome<ChangeSet>> {
  const { change } = carried;
  const folder = folderOf(app, { id: change.repository });
  const left = await settleIntents(app, change.id);
  if (left > 0)
    return refuse("conflict", "What was begun here before could not be brought to its end yet. Try again in a minute.");
  for (let n = 0; n < MOST_TRIES; n++) {
    const prepared = await prepare(app, change.id, carried.command.kind);
    if (!prepared) return refuse("missing", "There is no such change set.");
    const outcome = await attempt(app, carried, prepared, folder);
    if (outcome?.ok) app.bell.ring();
    if (outcome) return outcome;
  }
  return refuse("conflict", "Others are changing this change set all the time. Try again in a moment.");
}

/** How often it is begun anew when something came in between. */
const MOST_TRIES = 20;

/** Null when something came in between: then nothing was done. */
async function attempt(
  app: AppContext,
  carried: Carried,
  prepared: Prepared,
  folder: string,
): Promise<Outcome<ChangeSet> | null> {
  const { change, person, branch, from, to, way, words } = carried;
  const decideIn = async (db: Queries): Promise<Outcome<NewEvent>> =>
    carried.unless?.(prepared.change) ?? decided(app, db, prepared, person, carried.command);
  const early = await decideIn(app.db);
  if (!early.ok) return early;
  const intent: RefIntentsTable = {
    id: app.newId(),
    change_set: change.id,
    by: person.id,
    at: app.now(),
    branch,
    from_commit: from,
    to_commit: to,
    event: JSON.stringify(early.value),
  };
  const active = activeIn(app);
  active.add(intent.id);
  try {
    await app.db.insertInto("ref_intents").values(intent).execute();
    let tried = false;
    try {
      return await app.db.transaction().execute(async (tx) => {
        if (!(await stillSo(tx, prepared))) throw new NotSo(null);
        const decision = await decideIn(tx);
        if (!decision.ok) throw new NotSo(decision);
        const after = await append(tx, prepared.change, stamp(app, prepared.change, person, decision.value));
        await carried.also?.(tx);
        const ref = `refs/heads/${branch}`;
        await noteMove(app, tx, { repository: change.repository, ref, old: from, next: to, person: person.id, way });
        await tx.deleteFrom("ref_intents").where("id", "=", intent.id).execute();
        tried = true;
        if (!(await moveBranch(folder, branch, to, from, words)))
          throw new NotSo(
            refuse("conflict", `${branch} has moved just now. Nothing was changed: look at what came, and try again.`),
          );
        return done(after);
      });
    } catch (error) {
      const known = error instanceof NotSo || error instanceof RefStuck;
      // git may have moved it although it came to a bad end itself.
      if (known || !tried || !(await stoodAt(folder, branch, to))) {
        await forget(app, intent);
        if (error instanceof NotSo) return error.outcome;
        if (error instanceof RefStuck) return refuse("conflict", error.message);
        throw error;
      }
      // The branch was moved, and whether the transaction ended well is not known.
      const after = await recorded(app, intent).catch(() => null);
      if (after) return done(after);
      app.log.error({ err: error, change: change.id }, "a branch was moved, and that could not be recorded");
      if (await moveBranch(folder, branch, from, to, `${words}: taken back, it could not be recorded`)) {
        await forget(app, intent);
        return refuse("conflict", "The database could not be written, so nothing was changed. Try again in a while.");
      }
      return refuse(
        "conflict",
        `The database could not be written, and ${branch} has moved on since. What was done is recorded as soon as there is room.`,
      );
    }
  } finally {
    active.delete(intent.id);
  }
}

/** Whether a branch is at a commit, or was and has gone on. */
async function stoodAt(folder: string, branch: string, commit: string): Promise<boolean> {
  const tip = await branchCommit(folder, branch);
  return tip !== null && (await isAncestor(folder, commit, tip));
}

/** Undoes the transaction. */
class NotSo extends Error {
  /** Null: something came in between. */
  constructor(readonly outcome: Outcome<never> | null) {
    super("not so");
  }
}

/** Ids of what is being carried out in this process right now. */
const ACTIVE = new WeakMap<AppContext, Set<string>>();
function activeIn(app: AppContext): Set<string> {
  const active = ACTIVE.get(app) ?? new Set();
  ACTIVE.set(app, active);
  return active;
}

/** Ends an intent of which nothing came. Where that cannot be written now, it is settled later. */
async function forget(app: AppContext, { id }: RefIntentsTable): Promise<void> {
  await app.db
    .deleteFrom("ref_intents")
    .where("id", "=", id)
    .execute()
    .catch((error: unknown) => app.log.warn({ err: error }, "an intent could not be ended yet"));
}

/** The change set, when the log has what was intended. */
async function recorded(app: AppContext, intent: RefIntentsTable): Promise<ChangeSet | null> {
  const wanted = JSON.parse(intent.event) as NewEvent;
  const events = await eventsOf(app.db, intent.change_set);
  const there = events.some((event) => event.kind === wanted.kind && commitOf(event) === intent.to_commit);
  return there ? loadChangeSet(app.db, intent.change_set) : null;
}

function commitOf(event: NewEvent): string | null {
  if (event.kind === "merged") return event.data.commit;
  return event.kind === "revised" ? event.data.revision.head : null;
}

/**
 * Brings what was cut short to its end: records what happened to a branch and is not in the log, and forgets what did not happen. Gives how
 * many are left because they could not be written. Only the server does this: beside it, what goes on would be taken for what was cut short.
 */
export async function settleIntents(app: AppContext, only?: string): Promise<number> {
  let query = app.db.selectFrom("ref_intents").selectAll();
  if (only) query = query.where("change_set", "=", only);
  const intents = (await query.execute()).filter(({ id }) => !activeIn(app).has(id));
  let left = 0;
  for (const intent of intents) {
    try {
      await settle(app, intent);
    } catch (error) {
      left++;
      app.log.error({ err: error, change: intent.change_set }, "what was cut short could not be settled yet");
    }
  }
  return left;
}

async function settle(app: AppContext, intent: RefIntentsTable): Promise<void> {
  const { change_set, branch, to_commit, from_commit, by } = intent;
  const change = await loadChangeSet(app.db, change_set);
  const folder = change && folderOf(app, { id: change.repository });
  const tip = folder && (await branchCommit(folder, branch));
  const inBranch = folder && tip ? await isAncestor(folder, to_commit, tip) : false;
  const happened = change !== null && inBranch && goesOn(change) && !(await recorded(app, intent));
  await app.db.transaction().execute(async (tx) => {
    if (happened) {
      const event = JSON.parse(intent.event) as NewEvent;
      const before = await loadChangeSet(tx, change_set);
      await append(tx, before, stamp(app, before ?? change, { id: by }, event));
      const way = event.kind === "merged" ? ("merge" as const) : ("suggestions" as const);
      const ref = `refs/heads/${branch}`;
      const move = { repository: change.repository, ref, old: from_commit, next: to_commit, person: by, way };
      await noteMove(app, tx, move);
    }
    await tx.deleteFrom("ref_intents").where("id", "=", intent.id).execute();
  });
  app.bell.ring();
  app.log.warn({ change: change_set, happened }, "settled what was cut short");
}
