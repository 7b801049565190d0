import { visible } from "@/core/cautions/visible";
import { counted } from "@/core/plain/words";
import { type ChangeSet, newest } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { countCommits, isAncestor, mergeBase } from "@/git/history/commits";
import { dropHanded, handedFor } from "@/git/ledger";
import { branchCommit } from "@/git/repository";
import { loadChangeSet } from "@/store/log";
import { audit } from "../../access/audit";
import type { Person } from "../../access/person";
import type { AppContext } from "../../app/context";
import { addressOf } from "../../app/settings";
import { adviceForPush } from "../../changes/chains";
import { openWith } from "../../changes/open-changes";
import { openChange } from "../../changes/revisions/opening";
import { revise } from "../../changes/revisions/revising";
import { historiesOf } from "../../following/anchor-histories";
import { takeHanded } from "../../ledger/handed";
import { forgetShown } from "../../reading/shown";
import { confirmMoves, type RefMove } from "../../refs/moves";
import { factsFor } from "../../rules/facts";
import { type PushOptions, readOptions } from "./options";
import { branchOf, isNone, ledgerOf, type Push, type Pusher, pusherIn } from "./push";

/** Records what a push means for change sets, and gives the lines for the terminal. */
export async function afterPush(app: AppContext, push: Push): Promise<string[]> {
  const who = await pusherIn(app, push);
  if (!who.ok) return [who.refusal.reason];
  const { repository, person } = who.value;
  await confirmMoves(app, repository.id, person.id, push.updates);
  for (const { ref, old, next } of push.updates)
    await audit(app, { person: person.id, address: push.from }, "pushed", {
      repository: repository.name,
      ref,
      old,
      next,
    });
  for (const { old, next } of push.updates)
    if (!isNone(old) && (isNone(next) || !(await isAncestor(who.value.folder, old, next))))
      forgetShown(app, who.value.folder);
  // One push of a repository after the other, so that revisions come in the order of the pushes.
  return app.inTurn(`push ${repository.id}`, async () => {
    const options = readOptions(push.options);
    const said: string[] = [];
    for (const move of push.updates) {
      const ledger = ledgerOf(move.ref);
      if (ledger) said.push(...(await takeHanded(app, repository, { stream: ledger, ...move })));
    }
    // What came without the ledger that it belongs to is of no use to anyone.
    for (const { ref } of push.updates) {
      const change = handedFor(ref);
      if (change !== null) await dropHanded(who.value.folder, change);
    }
    for (const move of push.updates)
      said.push(...(await afterMove(app, who.value, move, options.ok ? options.value : {})));
    // What others wrote, such as titles and subjects, must not move the cursor of a terminal.
    return said.map(visible);
  });
}

async function afterMove(
  app: AppContext,
  who: Pusher,
  { ref, next }: RefMove,
  options: PushOptions,
): Promise<string[]> {
  const { person, repository, folder } = who;
  const branch = branchOf(ref);
  if (branch === null || isNone(next)) return [];
  const open = await openWith(app.db, repository.id, "source", branch);
  const said: string[] = [];
  for (const change of open) said.push(...(await recordPush(app, who, change, next)));
  if (open.length > 0) return said;
  const advice = await adviceForPush(app, repository.id, folder, branch, next);
  if (advice) said.push(advice);
  const address = addressOf(app.settings);
  if (options.title === undefined) {
    if (branch !== repository.defaultBranch)
      said.push(
        `Offer ${branch} for review: ${address}/r/${repository.name}/open?source=${encodeURIComponent(branch)}`,
      );
    return said;
  }
  const opened = await openChange(app, person, repository.name, {
    source: branch,
    target: options.target ?? repository.defaultBranch,
    title: options.title,
    description: options.description ?? "",
    draft: options.draft !== undefined,
  });
  said.push(
    opened.ok
      ? `${options.draft === undefined ? "Change set" : "Draft of change set"} ${opened.value.number}: ${address}/r/${repository.name}/c/${opened.value.number}`
      : `No change set was opened: ${opened.refusal.reason}`,
  );
  return said;
}

/** What a push means for an open change set that offers the branch. */
async function recordPush(app: AppContext, { person, folder, repository }: Pusher, known: ChangeSet, next: string) {
  const change = (await loadChangeSet(app.db, known.id)) ?? known;
  const { number, source, target } = change;
  const { head, number: before } = newest(change);
  if (next === head) return [];
  // A later push may have been recorded first, and this one be part of it. Where the branch stands at it now, it was moved back.
  const back = await isAncestor(folder, next, head);
  if (back && (await branchCommit(folder, source)) !== next) return [];
  const targetHead = await branchCommit(folder, target);
  const base = targetHead && (await mergeBase(folder, targetHead, next));
  if (!targetHead || !base)
    return [
      `${source} and ${target} have no history in common: change set ${number} stays at r${before}, and cannot merge until ${source} stands there again.`,
    ];
  const said: string[] = [];
  if (back)
    said.push(
      `${source} went back by ${counted(await countCommits(folder, next, head), "commit")}: what r${before} had beyond it is taken back.`,
    );
  const revised = await revise(app, person, change, folder, { head: next, target: targetHead, base });
  if (!revised.ok) {
    said.push(
      `No new revision of change set ${number}: ${revised.refusal.reason} Until ${source} stands at r${before} again or has something new, it cannot merge.`,
    );
    return said;
  }
  said.push(
    `r${newest(revised.value).number} of change set ${number}: ${addressOf(app.settings)}/r/${repository.name}/c/${number}`,
  );
  // Followed now, so that the first who looks does not wait for it.
  historiesOf(app, folder, revised.value).catch((error) =>
    app.log.warn({ err: error }, "threads could not be followed"),
  );
  if (change.mergeAsked && !revised.value.mergeAsked)
    said.push("  It is not merged by itself any more: that was asked for what stood there before.");
  said.push(...(await stillNeeded(app, person, revised.value)));
  return said;
}

/** What the gate still lacks, for the terminal. */
async function stillNeeded(app: AppContext, person: Person, change: ChangeSet): Promise<string[]> {
  const { rule, gate: facts } = await factsFor(app, app.db, change, person);
  const { conditions } = evaluateGate(change, rule, facts);
  return conditions.filter(({ met }) => !met).map(({ says }) => `  not met: ${says}`);
}
