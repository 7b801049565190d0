import { provenEntries } from "@/core/doors/ledger/ledger";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { ReviewEvent } from "@/core/review/events";
import { decideOpening } from "@/core/review/families/lifecycle";
import type { RevisionFacts } from "@/core/review/shapes";
import { type ChangeSet, newest } from "@/core/review/state";
import { isAncestor, mergeBase } from "@/git/history/commits";
import { filesOf, handedCommits } from "@/git/ledger";
import { branchCommit, dropRevision, keepRevision, objectSize } from "@/git/repository";
import { eventsOf, loadChangeSet, takeIn } from "@/store/log";
import type { Person } from "../access/person";
import { folderOf } from "../access/repositories";
import { type AppContext, MOST_AHEAD } from "../app/context";
import { transact } from "../changes/deciding";
import { openFor } from "../changes/open-changes";
import { nextNumber } from "../changes/revisions/opening";
import { keptAlive } from "../changes/revisions/revising";
import { tellRevision } from "../changes/revisions/tell-revision";
import { comparable } from "../reading/files-between";
import { pusherOf } from "../refs/moves";
import { wrongTime } from "./intake";
import { proverOf } from "./keys";
import { noteUsed, signedHere, signersHere } from "./signers";

/**
 * A change set that began in a clone is opened here, as whoever signed its opening asks for now: with the id that it has there, by their role, and with the
 * commits that its branch has here, or that were handed along. Who pushed those is as the server knows it, whatever the entry says. `commit` is what was
 * pushed as its ledger. Gives the id of the key, too.
 */
export async function openHanded(
  app: AppContext,
  repository: { id: string },
  stream: string,
  commit: string,
): Promise<Outcome<{ change: ChangeSet; key: string }>> {
  const folder = folderOf(app, repository);
  const events = [...(await filesOf(folder, commit))].filter(([path]) => path.startsWith("events/"));
  const signers = await signersHere(app);
  const prover = proverOf([...signers.values()].map((one) => one.public));
  const { proven } = provenEntries(stream, events, prover);
  const first = proven[0];
  if (first?.event.kind !== "opened")
    return refuse(
      "missing",
      "no key that is somebody’s here signed how it began. Whose a clone is, is said with lens key, on the page “Tokens and sessions”.",
    );
  const signer = signers.get(first.signature.key)!;
  const late = wrongTime(first.event, first.event.id, app.now(), MOST_AHEAD);
  if (late !== null) return refuse("invalid", `${late}.`);
  const signed = await signedHere(app, repository, first.event as unknown as ReviewEvent, signer);
  if (!signed.ok) return signed;
  const { person, role, here } = signed.value;
  if (here.kind !== "opened" || here.data.author !== undefined)
    return refuse("forbidden", "what a machine account opened is opened on this server alone.");
  const { title, description, source, target, revision, draft } = here.data;
  const isNewest = !proven.some(({ event }) => event.kind === "revised");
  const wrong = await notHere(folder, { id: stream, source, target }, revision, isNewest);
  if (wrong !== null) return refuse("conflict", wrong);
  const enough = await comparable(app, folder, revision);
  if (!enough.ok) return enough;
  const pusher = await whoPushed(app, repository, folder, source, revision.head);
  // Kept alive before it is told of: a ref that nothing names does no harm, commits that are gone would.
  await keepRevision(folder, stream, 1, revision.head, revision.target);
  const opened = await app.db.transaction().execute(async (tx): Promise<Outcome<ChangeSet>> => {
    const decision = decideOpening({
      title,
      description,
      source,
      target,
      revision,
      draft,
      pusher,
      actor: { id: person.id, role, machine: person.machine },
      answers: person.id,
      repository: repository.id,
      number: await nextNumber(tx, repository),
      alreadyOpen: await openFor(tx, repository, source, target),
    });
    if (!decision.ok) return decision;
    await takeIn(tx, [{ ...here, data: decision.value.data }]);
    return done((await loadChangeSet(tx, stream))!);
  });
  if (!opened.ok) {
    await dropRevision(folder, stream, 1);
    return opened;
  }
  await noteUsed(app, signer);
  app.bell.ring();
  return done({ change: opened.value, key: first.signature.key });
}

/**
 * Takes a revision in that was recorded in a clone: behind all that are here, of commits that the branch has here or, unless it is the newest, had. Gives why
 * not; undefined where it is here already, as a push made it. That it carries suggestions out is the clone's word alone: here only what this server made of
 * them settles their threads.
 */
export async function reviseHanded(
  app: AppContext,
  person: Person,
  event: Extract<ReviewEvent, { kind: "revised" }>,
  isNewest: boolean,
): Promise<string | null | undefined> {
  const change = (await loadChangeSet(app.db, event.stream))!;
  const { revision } = event.data;
  if (change.revisions.some(({ head }) => head === revision.head)) return undefined;
  const last = (await eventsOf(app.db, change.id)).findLast(({ kind }) => kind === "revised" || kind === "retargeted");
  if (last && last.id > event.id) return `r${newest(change).number} has come in between.`;
  const folder = folderOf(app, { id: change.repository });
  const wrong = await notHere(folder, change, revision, isNewest);
  if (wrong !== null) return wrong;
  const number = newest(change).number + 1;
  const outcome = await keptAlive(app, change, folder, revision, async () => {
    const told = await tellRevision(app, folder, newest(change), revision);
    const pusher = await whoPushed(app, { id: change.repository }, folder, change.source, revision.head);
    const command = { kind: "revise" as const, revision, number, pusher, ...told };
    return transact(app, person, change.id, command, { as: event, anew: true });
  });
  return outcome.ok ? null : outcome.refusal.reason;
}

/**
 * Why commits are not what a branch offers to another here; null where they are. What its writer changed since, as by a rebase, the branch need not hold any
 * more, if it was handed along: it is what was read, and never what is merged.
 */
async function notHere(
  folder: string,
  { id, source, target }: { id: string; source: string; target: string },
  { head, base, target: at }: RevisionFacts,
  isNewest: boolean,
): Promise<string | null> {
  const [tip, aim] = [await branchCommit(folder, source), await branchCommit(folder, target)];
  if (aim === null) return `there is no branch ${target} here.`;
  const isHanded = !isNewest && (await handedCommits(folder, id)).has(head);
  if (tip === null || (!isHanded && !(await holds(folder, tip, head))))
    return `its branch ${source} does not hold ${head.slice(0, 12)} here. lens sync --offer pushes it along.`;
  if (!(await holds(folder, aim, at))) return `${target} does not hold ${at.slice(0, 12)} here.`;
  return (await mergeBase(folder, at, head)) === base ? null : "it says another base than its commits have.";
}

async function holds(folder: string, tip: string, commit: string): Promise<boolean> {
  if (!/^[0-9a-f]{40,64}$/.test(commit) || (await objectSize(folder, commit)) === null) return false;
  return isAncestor(folder, commit, tip);
}

/** Who put a commit onto a branch here, as far as that is known: who pushed it, or the newest that holds it. */
async function whoPushed(app: AppContext, { id }: { id: string }, folder: string, branch: string, commit: string) {
  const tip = await branchCommit(folder, branch);
  return (await pusherOf(app.db, id, branch, commit)) ?? (tip ? pusherOf(app.db, id, branch, tip) : undefined);
}
