import { done, type Outcome, refuse } from "@/core/outcome";
import { type Command, decide } from "@/core/review/decide";
import type { ReviewEvent } from "@/core/review/events";
import { type ChangeSet, newest } from "@/core/review/state";
import { counted, listed } from "@/core/words";
import { mergeTree, moveBranch, writeCommit } from "@/git/merge";
import { branchCommit, isAncestor } from "@/git/repository";
import { append, loadChangeSet } from "@/store/log";
import { factsFor } from "./facts";
import type { Lens } from "./lens";
import type { Person } from "./people";
import { folderOf } from "./repositories";

/** The message a merge commit gets unless someone edits it. */
export function mergeMessage(change: ChangeSet): string {
  const body = change.description.trim();
  return `Merge ${change.source} into ${change.target}: ${change.title}\n\n${body === "" ? "" : `${body}\n\n`}Change-Set: ${change.number}\n`;
}

/**
 * Merges the newest revision by a merge commit. The commit is made first and hangs nowhere; then, in one transaction, the gate is
 * asked, the event is written and the branch is moved by compare-and-swap. An intent written beforehand tells after a crash which of
 * the two happened; see {@link settleMerges}.
 */
export async function merge(
  lens: Lens,
  person: Person,
  change: ChangeSet,
  folder: string,
  revision: number,
  message: string,
): Promise<Outcome<ChangeSet>> {
  const from = await branchCommit(folder, change.target);
  if (!from) return refuse("missing", `There is no branch “${change.target}” any more.`);
  const { head } = newest(change);
  const asked: Command = { kind: "merge", revision, commit: from, target: from, message };
  const early = decide(change, asked, await factsFor(lens.db, change, person));
  if (!early.ok) return early;
  if (await isAncestor(folder, head, from))
    return refuse("conflict", `Every commit of r${revision} is in ${change.target} already.`);
  const merged = await mergeTree(folder, from, head);
  if (!merged.clean) {
    return refuse(
      "conflict",
      `r${revision} conflicts with ${change.target} in ${counted(merged.paths.length, "file")}: ${listed(merged.paths.slice(0, 5))}${merged.paths.length > 5 ? " …" : ""}. Bring ${change.target} into ${change.source}, and record a new revision.`,
    );
  }
  const by = { name: person.full_name, email: person.email, at: lens.now() };
  const made = await writeCommit(folder, { tree: merged.tree, parents: [from, head], message, by });
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
      const decision = decide(now, { ...asked, commit: made }, await factsFor(tx, now, person));
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

function eventOf(intent: {
  change_set: string;
  event: string;
  by: string;
  at: number;
  revision: number;
  to_commit: string;
  from_commit: string;
  message: string;
}): ReviewEvent {
  return {
    id: intent.event,
    stream: intent.change_set,
    kind: "merged",
    version: 1,
    by: intent.by,
    at: intent.at,
    data: { revision: intent.revision, commit: intent.to_commit, target: intent.from_commit, message: intent.message },
  };
}
