import { done, type Outcome, refuse } from "@/core/outcome";
import { type Command, decide } from "@/core/review/decide";
import type { ReviewEvent } from "@/core/review/events";
import type { ChangeSet } from "@/core/review/state";
import type { MergeKind } from "@/core/rules/rule";
import { moveBranch } from "@/git/merge";
import { branchCommit, isAncestor } from "@/git/repository";
import { append, loadChangeSet } from "@/store/log";
import type { MergeIntentsTable } from "@/store/schema";
import { factsFor } from "./facts";
import type { Lens } from "./lens";
import { makeResult } from "./merge-result";
import type { Person } from "./people";
import { folderOf } from "./repositories";

/** What a person asks for when they merge. */
export interface MergeRequest {
  revision: number;
  message: string;
  how?: MergeKind;
  /** Why the gate is passed although it is not met. */
  passing?: string;
}

/**
 * Merges the newest revision in one of the ways that the rule allows. The commits are made first and hang nowhere; then, in one
 * transaction, the gate is asked, the event is written and the branch is moved by compare-and-swap. An intent written beforehand tells
 * after a crash which of the two happened; see {@link settleMerges}.
 */
export function merge(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  request: MergeRequest,
): Promise<Outcome<ChangeSet>> {
  // One after the other for each target, so that merges asked for at the same moment do not move it away under each other.
  return lens.inTurn(`merge ${change.repository} ${change.target}`, () =>
    mergeNow(lens, person, change, folder, request),
  );
}

async function mergeNow(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  { revision, message, how = "merge", passing }: MergeRequest,
): Promise<Outcome<ChangeSet>> {
  const from = await branchCommit(folder, change.target);
  if (!from) return refuse("missing", `There is no branch “${change.target}” any more.`);
  const command = (commit: string): Command => ({
    kind: "merge",
    revision,
    commit,
    target: from,
    message,
    how,
    passing,
  });
  const known = (await loadChangeSet(lens.db, change.id)) ?? change;
  const early = decide(known, command(from), await factsFor(lens, lens.db, known, person));
  if (!early.ok) return early;
  const by = { name: person.full_name, email: person.email, at: lens.now() };
  const result = await makeResult(folder, change, from, how, message, by);
  if (!result.ok) return result;
  const made = result.value.commit;
  const intent = {
    change_set: change.id,
    event: lens.newId(),
    by: person.id,
    at: lens.now(),
    branch: change.target,
    from_commit: from,
    to_commit: made,
    revision,
    message,
    kind: how,
    passing: passing?.trim() ?? null,
  };
  const begun = await lens.db
    .insertInto("merge_intents")
    .values(intent)
    .onConflict((conflict) => conflict.doNothing())
    .executeTakeFirst();
  if (Number(begun.numInsertedOrUpdatedRows ?? 0) === 0)
    return refuse("conflict", "Someone else is merging this change set just now.");
  try {
    return await lens.db.transaction().execute(async (tx) => {
      const now = await loadChangeSet(tx, change.id);
      if (!now) return refuse("missing", "There is no such change set.");
      const decision = decide(now, command(made), await factsFor(lens, tx, now, person));
      if (!decision.ok) return decision;
      const after = await append(tx, now, eventOf(intent));
      if (!(await moveBranch(folder, change.target, made, from, `merge of change set ${change.number}`)))
        throw new TargetMoved();
      return done(after);
    });
  } catch (error) {
    if (error instanceof TargetMoved)
      return refuse("conflict", `${change.target} has moved while you merged. Nothing was changed: try again.`);
    throw error;
  } finally {
    await lens.db
      .deleteFrom("merge_intents")
      .where("change_set", "=", change.id)
      .where("event", "=", intent.event)
      .execute();
  }
}

/** Undoes the transaction when the branch was not where it was expected. */
class TargetMoved extends Error {}

/** After a crash: writes the event of a merge whose branch was moved, and forgets one whose branch was not. */
export async function settleMerges(lens: Lens): Promise<void> {
  for (const intent of await lens.db.selectFrom("merge_intents").selectAll().execute()) {
    const change = await loadChangeSet(lens.db, intent.change_set);
    const now = change && (await branchCommit(folderOf(lens, { id: change.repository }), intent.branch));
    const happened =
      change?.state === "open" &&
      now &&
      (await isAncestor(folderOf(lens, { id: change.repository }), intent.to_commit, now));
    await lens.db.transaction().execute(async (tx) => {
      if (happened) await append(tx, change, eventOf(intent));
      await tx.deleteFrom("merge_intents").where("change_set", "=", intent.change_set).execute();
    });
    lens.log.warn({ change: intent.change_set, happened: Boolean(happened) }, "settled a merge that was cut short");
  }
}

function eventOf(intent: MergeIntentsTable): ReviewEvent {
  const { revision, to_commit, from_commit, message, kind, passing } = intent;
  return {
    id: intent.event,
    stream: intent.change_set,
    kind: "merged",
    version: 1,
    by: intent.by,
    at: intent.at,
    data: { revision, commit: to_commit, target: from_commit, message, kind, ...(passing ? { passing } : {}) },
  };
}
