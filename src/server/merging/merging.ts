import { type Outcome, refuse } from "@/core/plain/outcome";
import type { Command } from "@/core/review/families/table";
import type { ChangeSet } from "@/core/review/state";
import type { MergeKind } from "@/core/rules/rule";
import { branchCommit } from "@/git/repository";
import { audit } from "../access/audit";
import type { Person } from "../access/person";
import type { AppContext } from "../app/context";
import { decided, prepare } from "../changes/deciding";
import { recordAndMove } from "../refs/both";
import { makeResult } from "./merge-result";

/** What a person asks for when they merge. */
export interface MergeRequest {
  revision: number;
  message: string;
  how?: MergeKind;
  /** Why the gate is passed although it is not met. */
  passing?: string;
}

/**
 * Merges the newest revision in one of the ways that the rule allows. The commits are made first and hang nowhere; then the gate is asked,
 * the event is written and the branch is moved: see {@link recordAndMove}.
 */
export function merge(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  request: MergeRequest,
): Promise<Outcome<ChangeSet>> {
  // One after the other for each target, so that merges asked for at the same moment do not move it away under each other.
  return app.inTurn(`merge ${change.repository} ${change.target}`, () =>
    mergeNow(app, person, change, folder, request),
  );
}

async function mergeNow(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  { revision, message, how = "merge", passing }: MergeRequest,
): Promise<Outcome<ChangeSet>> {
  const from = await branchCommit(folder, change.target);
  if (!from) return refuse("missing", `There is no branch “${change.target}” any more.`);
  const commandFor = (commit: string): Command => ({
    kind: "merge",
    revision,
    commit,
    target: from,
    message,
    how,
    passing,
  });
  const unless = (now: ChangeSet) =>
    now.target === change.target
      ? null
      : refuse("conflict", `It is offered to ${now.target} meanwhile. Look at the gate again.`);
  const prepared = await prepare(app, change.id, "merge");
  if (!prepared) return refuse("missing", "There is no such change set.");
  const known = prepared.change;
  const early = unless(known) ?? (await decided(app, app.db, prepared, person, commandFor(from)));
  if (!early.ok) return early;
  const by = { name: person.fullName, email: person.email, at: app.now() };
  const result = await makeResult(folder, known, from, how, message, by);
  if (!result.ok) return result;
  const to = result.value.commit;
  return recordAndMove(app, {
    change,
    person,
    branch: change.target,
    from,
    to,
    way: "merge",
    words: `merge of change set ${change.number}`,
    command: commandFor(to),
    unless,
    also: async (tx) => {
      if (passing === undefined) return;
      const about = { change: change.id, number: change.number, target: change.target, why: passing };
      await audit(app, { person: person.id, address: "" }, "gate-passed", about, tx);
    },
  });
}
