import { type Outcome, refuse } from "@/core/plain/outcome";
import { type ChangeSet, goesOn, newest, sameWork } from "@/core/review/state";
import { guardOf } from "@/core/rules/rule";
import type { ChainLine, ChainView } from "@/core/views/api";
import { isAncestor } from "@/git/history/commits";
import { branchCommit } from "@/git/repository";
import type { Queries } from "@/store/database";
import { loadChangeSet } from "@/store/log";
import { madeOnce } from "@/store/made-once";
import { personById } from "../access/people";
import type { Person } from "../access/person";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { shelf } from "../app/kept";
import { rulesOf } from "../rules/rules";
import { idOfChange } from "./changes";
import { decided, transact } from "./deciding";
import { openAround, openFor, openLines, openWith } from "./open-changes";
import { keptAlive, readRevision, recordTip } from "./revisions/revising";

/** Change sets that stand on each other: the target of one is the source of another. */

/** Offers a change set to another branch. `after` is the number of the change set by whose merge this came, where nobody asked for it. */
export async function retarget(
  app: AppContext,
  person: Person,
  change: ChangeSet,
  folder: string,
  target: string,
  after?: number,
): Promise<Outcome<ChangeSet>> {
  const read = await readRevision(folder, change.source, target);
  if (!read.ok) return read;
  const revision = read.value;
  // What was approved for one branch was not approved for another. It is the same only where another's merge brought it nearer to its end.
  const same = after !== undefined && sameWork(newest(change), revision);
  const command = { kind: "retarget" as const, target, revision, same, ...(after === undefined ? {} : { after }) };
  const unless = async (tx: Queries) => {
    const other = await openFor(tx, { id: change.repository }, change.source, target);
    if (other === null) return null;
    return refuse("conflict", `Change set ${other} is open from ${change.source} into ${target} already.`);
  };
  const early = await decided(app, app.db, { change, git: null }, person, command);
  if (!early.ok) return early;
  return keptAlive(app, change, folder, revision, () => transact(app, person, change.id, command, { unless }));
}

/** What a merge means for others: those that stood on its source go to its target, and it is a revision of those that offer its target. */
export async function carryChains(app: AppContext, merged: ChangeSet): Promise<void> {
  const person = await personById(app.db, merged.settled?.by);
  if (!person || merged.state !== "merged") return;
  const folder = folderOf(app, { id: merged.repository });
  for (const change of await openWith(app.db, merged.repository, "target", merged.source)) {
    if (!(await standsOn(app, change, merged))) continue;
    const moved = await retarget(app, person, change, folder, merged.target, merged.number);
    if (!moved.ok) app.log.info({ change: change.id, why: moved.refusal.reason }, "a chain could not be carried on");
  }
  for (const change of await openWith(app.db, merged.repository, "source", merged.target)) {
    const tip = await branchCommit(folder, change.source);
    if (tip && tip !== newest(change).head) await recordTip(app, change, folder, tip);
  }
}

/** Whether a change set was meant to go in by way of another: it was offered to its source before that was merged, and that ended the branch. */
async function standsOn(app: AppContext, change: ChangeSet, merged: ChangeSet): Promise<boolean> {
  const offered = change.revisions.findLast(({ how }) => how === "retargeted")?.at ?? change.openedAt;
  if (merged.settled === null || offered > merged.settled.at) return false;
  return isOver(app, change.repository, change.target);
}

/** Whether a branch is nobody's main any more: no rule guards it, it is not the default branch, and nothing offers it. */
async function isOver(app: AppContext, repository: string, branch: string): Promise<boolean> {
  const row = await app.db
    .selectFrom("repositories")
    .select("default_branch")
    .where("id", "=", repository)
    .executeTakeFirst();
  if (row?.default_branch === branch || guardOf(await rulesOf(app.db, repository), branch)) return false;
  return (await openLines(app.db, repository, "source", branch)).length === 0;
}

/** The change set that was merged last from a branch. */
async function lastMergedFrom({ db }: AppContext, repository: string, branch: string): Promise<ChangeSet | null> {
  const id = await madeOnce(db, `last merged from ${branch} in ${repository}`, async () => {
    const row = await db
      .selectFrom("change_sets")
      .select("id")
      .where("repository", "=", repository)
      .where("source", "=", branch)
      .where("state", "=", "merged")
      .orderBy("settled_at", "desc")
      .limit(1)
      .executeTakeFirst();
    return row?.id ?? null;
  });
  return id === null ? null : loadChangeSet(db, id);
}

/** How a change set stands to others: on which it stands, which stand on it, and what that means for merging it. */
export async function chainOf(app: AppContext, change: ChangeSet): Promise<ChainView> {
  const view: ChainView = { on: null, under: [], notes: [] };
  if (!goesOn(change)) return view;
  const { repository, target, source } = change;
  const { offering, into } = await openAround(app.db, repository, { offer: target, into: source });
  const [below] = offering;
  if (below) view.on = lineOf(below);
  view.under = into.map(lineOf);
  const over = below ? null : await lastMergedFrom(app, repository, target);
  if (over && (await isOver(app, repository, target)))
    view.notes.push(
      `${target} was merged into ${over.target} already, by change set ${over.number}: what is merged into it now reaches nothing. Offer this to ${over.target} instead.`,
    );
  const advice = await goesOnAfterSquash(app, change);
  if (advice) view.notes.push(advice);
  return view;
}

function lineOf({ number, title, state }: ChainLine): ChainLine {
  return { number, title, state };
}

/** What to do when a change set holds commits of one that was merged as other commits; null when it does not. */
async function goesOnAfterSquash(app: AppContext, change: ChangeSet): Promise<string | null> {
  const { repository, source, sentBy } = change;
  const merged =
    sentBy === null ? await lastMergedFrom(app, repository, source) : await byNumber(app, repository, sentBy);
  if (!merged || merged.target !== change.target) return null;
  const { head, base } = newest(change);
  return (await holdsOld(app, merged, head, base)) ? rebaseAdvice(merged, source) : null;
}

const HOLDS_OLD = shelf<boolean>("holds old", 1_000);

/** Whether a branch at `head` holds the commits of a merged change set, and what it is held against does not: it was merged as others. */
async function holdsOld(app: AppContext, merged: ChangeSet, head: string, against: string): Promise<boolean> {
  const folder = folderOf(app, { id: merged.repository });
  const old = newest(merged).head;
  if (head === old) return false;
  // Commits never change, so neither does the answer; pages ask again and again.
  return HOLDS_OLD(app).get(
    `${folder}\0${old}\0${head}\0${against}`,
    async () => (await isAncestor(folder, old, head)) && !(await isAncestor(folder, old, against)),
  );
}

async function byNumber({ db }: AppContext, repository: string, number: number): Promise<ChangeSet | null> {
  const id = await idOfChange(db, repository, number);
  return id === null ? null : loadChangeSet(db, id);
}

/** How a branch goes on after its change set was merged as one commit, or as others. */
function rebaseAdvice(merged: ChangeSet, branch: string): string {
  const old = newest(merged).head.slice(0, 12);
  return `What change set ${merged.number} brought is in ${merged.target} as other commits, and ${branch} still holds the old ones. Leave them behind: git rebase --onto origin/${merged.target} ${old} ${branch}`;
}

/** What to tell who pushes on a branch of which a change set was merged as other commits; null when there is nothing to tell. */
export async function adviceForPush(
  app: AppContext,
  repository: string,
  folder: string,
  branch: string,
  head: string,
): Promise<string | null> {
  const merged = await lastMergedFrom(app, repository, branch);
  if (!merged) return null;
  const target = await branchCommit(folder, merged.target);
  return target && (await holdsOld(app, merged, head, target)) ? rebaseAdvice(merged, branch) : null;
}
