import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { newest, offersBranch } from "@/core/review/state";
import { gitHere } from "@/git/clone";
import { isAncestor } from "@/git/history/commits";
import { handedRef, joinLedger, ledgersUnder, ledgerTips } from "@/git/ledger";
import { branchCommit } from "@/git/repository";
import { git, gitText } from "@/git/run";
import { loadChangeSets } from "@/store/log";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { formatProblem, sizeProblem } from "./format";
import { takeInLedgers, takenWords } from "./intake";
import { writeLedger } from "./ledgers";
import { beganElsewhere } from "./people-elsewhere";
import { SettledLedgers } from "./settled";

/** How often it is tried again when others pushed meanwhile. */
const TRIES = 4;

/** Where the refs of another repository are kept here. */
export function fetchedFrom(remote: string): string {
  return `refs/lens/from/${remote.replace(/[^\w-]+/g, "-")}`;
}

/** Whether something can be a remote: a name of git's, or an address. */
export function isRemote(remote: string): boolean {
  return /^[\w./:@+~-]+$/.test(remote) && !remote.startsWith("-");
}

/**
 * Gives the reviews of a clone to another repository and takes those that are there, with git as its owner has set it up. `told` hears of what there is to
 * say as it comes. Refused where the other cannot be reached or takes nothing; what came by then stays. With `offer` the branches of open change sets that
 * began here go along: a server opens what it has the branch of.
 */
export async function syncWith(
  app: AppContext,
  repository: { id: string },
  remote: string,
  told: (words: string) => void,
  offer = false,
): Promise<Outcome<null>> {
  if (!isRemote(remote)) return refuse("invalid", "That is no name of a remote.");
  const folder = folderOf(app, repository);
  const from = fetchedFrom(remote);
  for (let n = 1; ; n++) {
    const fetched = await gitHere(folder, [
      "fetch",
      "--quiet",
      "--no-tags",
      "--prune",
      remote,
      `+refs/lens/*:${from}/*`,
    ]);
    if (fetched.code !== 0) return refuse("unavailable", `${remote} cannot be fetched from.`);
    const unread = await unreadUnder(folder, from);
    for (const [stream, why] of unread) told(`Left the ledger ${stream} alone: ${why}.`);
    for (const words of await exchangeLedgers(app, repository, from, unread)) told(words);
    const kept = new Set([...(await ownAlone(app, repository)), ...unread.keys()]);
    const { ledgers, revisions } = await given(folder, from, kept);
    const push = async (refs: string[], heard = (line: string) => tellLine(line, told)) =>
      refs.length === 0 || (await gitHere(folder, ["push", "--quiet", remote, ...refs], { heard })).code === 0;
    // A server keeps those of its change sets itself, by their branches.
    const isPlain = await push(revisions, () => undefined);
    const branches = offer ? await branchesOffered(app, repository, folder, !isPlain) : [];
    // In one push: so who takes it has the commits when it hears of them.
    const whole = branches.length > 0 && (await push([...ledgers, ...branches]));
    if (branches.length > 0 && !whole) told(`${remote} does not take the branches that are offered here as they are.`);
    if (whole || (await push(ledgers))) {
      if (!isPlain && !offer)
        told(
          `${remote} takes no commits but by branches: lens sync ${remote} --offer pushes those of what began here.`,
        );
      await noteGiven(folder, from, ledgers);
      return done(null);
    }
    if (n === TRIES)
      return refuse("conflict", `${remote} does not take the reviews of this clone. What was there has been taken.`);
  }
}

/** What git says of a push, but for where it went and what it thinks of it. What the other side says comes as `remote: …`. */
function tellLine(line: string, told: (words: string) => void): void {
  const words = line.replace(/^remote:/, "").trim();
  if (words !== "" && !/^(?:To|hint:|error: failed to push) ?/.test(words)) told(words);
}

/** The ledgers under a prefix of refs that are not what they are here. */
async function otherUnder(folder: string, from: string): Promise<string[]> {
  const own = await ledgerTips(folder, "refs/lens/ledger");
  return [...(await ledgerTips(folder, `${from}/ledger`))].flatMap(([id, tip]) => (own.get(id) === tip ? [] : [id]));
}

/** The ledgers that came in a format that is not read here, or are larger than a review can be, and why. */
async function unreadUnder(folder: string, from: string): Promise<Map<string, string>> {
  const unread = new Map<string, string>();
  for (const id of await otherUnder(folder, from)) {
    const at = `${from}/ledger/${id}`;
    const why = (await sizeProblem(folder, at)) ?? (await formatProblem(folder, at));
    if (why !== null) unread.set(id, why);
  }
  return unread;
}

/**
 * The branches of the open change sets that began in this clone, where they stand at the newest revision. With `handed` also the commits of earlier revisions
 * that those branches do not hold any more: who takes commits by branches only would not have them.
 */
async function branchesOffered(
  app: AppContext,
  repository: { id: string },
  folder: string,
  handed: boolean,
): Promise<string[]> {
  const rows = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository.id)
    .where("state", "in", ["open", "draft"])
    .execute();
  const refs: string[] = [];
  for (const change of await loadChangeSets(
    app.db,
    rows.map(({ id }) => id),
  )) {
    if (!offersBranch(change) || (await beganElsewhere(app.db, change))) continue;
    const ref = `refs/heads/${change.source}`;
    if ((await branchCommit(folder, change.source)) !== newest(change).head) continue;
    refs.push(`${ref}:${ref}`);
    for (const { number, head } of handed ? change.revisions : [])
      if (!(await isAncestor(folder, head, newest(change).head))) refs.push(`${head}:${handedRef(change.id, number)}`);
  }
  return refs;
}

/** What was given is there from now on, as a fetch would find it. */
async function noteGiven(folder: string, from: string, pairs: readonly string[]): Promise<void> {
  for (const pair of pairs) {
    const [ref] = pair.split(":");
    await gitText(folder, ["update-ref", `${from}${ref.slice("refs/lens".length)}`, ref]);
  }
}

/** The change sets that nobody else is to have: what their reader has not committed yet. */
async function ownAlone(app: AppContext, repository: { id: string }): Promise<Set<string>> {
  const rows = await app.db
    .selectFrom("change_sets")
    .select(["id", "source"])
    .where("repository", "=", repository.id)
    .execute();
  return new Set(rows.filter((row) => !offersBranch(row)).map(({ id }) => id));
}

/** What is given that the other, as it was fetched, has not: ledgers, which others may have gone on with, and the commits of revisions, which nobody changes. */
async function given(
  folder: string,
  from: string,
  kept: ReadonlySet<string>,
): Promise<{ ledgers: string[]; revisions: string[] }> {
  const listed = await gitText(folder, ["for-each-ref", "--format=%(refname) %(objectname)", "refs/lens"]);
  const refs = new Map(
    listed.split("\n").flatMap((line) => (line === "" ? [] : [line.split(" ") as [string, string]])),
  );
  const fresh = [...refs].flatMap(([ref, id]) =>
    refs.get(`${from}${ref.slice("refs/lens".length)}`) === id || kept.has(/[0-9A-Z]{26}/.exec(ref)?.[0] ?? "")
      ? []
      : [ref],
  );
  const pairs = (shape: RegExp) => fresh.filter((ref) => shape.test(ref)).map((ref) => `${ref}:${ref}`);
  return {
    ledgers: pairs(/^refs\/lens\/ledger\/[0-9A-Z]{26}$/),
    revisions: pairs(/^refs\/lens\/[0-9A-Z]{26}\//),
  };
}

/**
 * Brings the ledgers of a repository and those that were fetched under a prefix of refs together: what happened here is written, what came is joined with
 * it and taken in. Gives what there is to say. The keys that are believed are those of `git config lens.ledgerKey`.
 */
async function exchangeLedgers(
  app: AppContext,
  repository: { id: string },
  from: string,
  unread: ReadonlyMap<string, string>,
): Promise<string[]> {
  const folder = folderOf(app, repository);
  await bringRevisions(folder, from);
  const own = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "=", repository.id)
    .orderBy("id")
    .execute();
  const keys = await gitText(folder, ["config", "--get-all", "lens.ledgerKey"], { answers: [1] });
  const believed = new Set(keys.split("\n").filter(Boolean));
  const settled = await SettledLedgers.of(app, repository, believed);
  for (const { id } of own) if (!settled.has(id)) await writeLedger(app, id);
  for (const id of await otherUnder(folder, from))
    if (!unread.has(id)) await joinLedger(folder, id, `${from}/ledger/${id}`);
  await settled.look();
  const streams = (await ledgersUnder(folder, "refs/lens/ledger")).filter((id) => !settled.has(id));
  const taken = await takeInLedgers(app, repository, believed, { streams });
  await settled.note(taken.whole);
  return takenWords(taken);
}

/** The commits of revisions that came: under the refs that they have everywhere. One that is here already is never moved. */
export async function bringRevisions(folder: string, from: string): Promise<void> {
  const listed = await gitText(folder, ["for-each-ref", "--format=%(refname) %(objectname)", "refs/lens", from]);
  const refs = new Map(listed.split("\n").map((line) => line.split(" ") as [ref: string, id: string]));
  const lines = [...refs].flatMap(([ref, id]) => {
    const place = ref.startsWith(`${from}/`) ? ref.slice(from.length + 1) : "";
    const isFresh = /^[0-9A-Z]{26}\/r\d+\/\w+$/.test(place) && !refs.has(`refs/lens/${place}`);
    return isFresh ? [`create refs/lens/${place} ${id}\n`] : [];
  });
  if (lines.length > 0) await git(folder, ["update-ref", "--stdin"], { input: lines.join("") });
}
