import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { joinLedger, ledgerTips, rememberLedger, settleLedger } from "@/git/ledger";
import { blobAt } from "@/git/repository";
import { GitError, git } from "@/git/run";
import { wayToAddress, whyNot } from "@/git/transport/origin";
import { loadChangeSet } from "@/store/log";
import type { NeighboursTable } from "@/store/tables/repositories";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { Repeated } from "../app/repeated";
import { bringRevisions } from "./exchange";
import { formatProblem, sizeProblem } from "./format";
import { type TakenIn, takeInLedgers } from "./intake";
import { writeLedger } from "./ledgers";

/**
 * Other servers that hold the reviews of the same repository. Each fetches what the other wrote, with a token that may read, and nothing is ever pushed: a
 * server takes in what it asked for. Its people are “NAME at SERVER” here, and their verdicts count at no gate of this one.
 */

/** A neighbour as a keeper names it. */
export type NeighbourRequest = Omit<NeighboursTable, "repository" | "asked_at" | "problem">;

const MOST = 16;

/** Keeps a neighbour of a repository under its name, in place of the one that had it. */
export async function keepNeighbour(
  app: AppContext,
  repository: { id: string },
  asked: NeighbourRequest,
): Promise<Outcome<null>> {
  if (!/^[a-z0-9][a-z0-9-]{0,31}$/.test(asked.name))
    return refuse("invalid", "A neighbour is called by lower-case letters, digits and dashes, 32 at most.");
  if (!/^[0-9a-f]{32}$/.test(asked.key)) return refuse("invalid", "A key has 32 hexadecimal digits.");
  if (!(asked.every >= 1 && asked.every <= 1440)) return refuse("invalid", "Ask it every 1 to 1440 minutes.");
  const way = wayToAddress({ url: asked.address });
  if (!way.ok) return way;
  const others = (await neighboursOf(app, repository)).filter(({ name }) => name !== asked.name);
  if (others.length >= MOST) return refuse("conflict", `${MOST} neighbours are the most.`);
  if (others.some(({ key }) => key === asked.key))
    return refuse("conflict", "Another neighbour signs with that key: it is the same server.");
  const row: NeighboursTable = { ...asked, repository: repository.id, asked_at: null, problem: "" };
  await app.db
    .insertInto("neighbours")
    .values(row)
    .onConflict((conflict) => conflict.columns(["repository", "name"]).doUpdateSet(row))
    .execute();
  return done(null);
}

/** Asks a neighbour no more. What it said stays. */
export async function dropNeighbour(app: AppContext, repository: { id: string }, name: string): Promise<Outcome<null>> {
  const gone = await app.db
    .deleteFrom("neighbours")
    .where("repository", "=", repository.id)
    .where("name", "=", name)
    .returning("name")
    .executeTakeFirst();
  return gone ? done(null) : refuse("missing", `There is no neighbour “${name}”.`);
}

/** The neighbours of a repository, by name, with their secrets. */
export function neighboursOf(app: AppContext, repository: { id: string }): Promise<NeighboursTable[]> {
  return app.db.selectFrom("neighbours").selectAll().where("repository", "=", repository.id).orderBy("name").execute();
}

/** Fetches what a neighbour wrote, joins it with the ledgers here, and takes in what it may say. Refused where it cannot be reached. */
export function exchangeWith(
  app: AppContext,
  neighbour: NeighboursTable,
  signal?: AbortSignal,
): Promise<Outcome<TakenIn>> {
  return app.inTurn(`neighbour ${neighbour.repository} ${neighbour.name}`, async () => {
    const outcome = await exchange(app, neighbour, signal);
    await app.db
      .updateTable("neighbours")
      .set({ asked_at: app.now(), problem: outcome.ok ? "" : outcome.refusal.reason })
      .where("repository", "=", neighbour.repository)
      .where("name", "=", neighbour.name)
      .execute();
    return outcome;
  });
}

/** The ledgers of neighbours as they were when all of them was taken in: what did not move since is not looked at again. By app, then ref. */
const lookedAt = new WeakMap<AppContext, Map<string, string>>();

async function exchange(app: AppContext, neighbour: NeighboursTable, signal?: AbortSignal): Promise<Outcome<TakenIn>> {
  const { repository, name, key, address, account, secret } = neighbour;
  const folder = folderOf(app, { id: repository });
  const way = wayToAddress({ url: address, account, secret });
  if (!way.ok) return way;
  const from = `refs/lens-from/${name}`;
  try {
    const fetch = ["fetch", "--quiet", "--no-tags", "--no-auto-gc", "--no-write-fetch-head", "--prune"];
    await git(folder, [...fetch, "--end-of-options", way.value.from, `+refs/lens/*:${from}/*`], {
      env: way.value.env,
      signal,
      within: Number.POSITIVE_INFINITY,
    });
  } catch (error) {
    if (signal?.aborted) return refuse("unavailable", "This server was ended while it asked.");
    if (error instanceof GitError) return refuse("unavailable", whyNot(error));
    throw error;
  }
  await bringRevisions(folder, from);
  const known = lookedAt.get(app) ?? new Map<string, string>();
  lookedAt.set(app, known);
  const moved = new Map<string, string>();
  for (const [stream, tip] of await ledgerTips(folder, `${from}/ledger`)) {
    const fetched = `${from}/ledger/${stream}`;
    if (known.get(`${repository} ${key} ${fetched}`) === tip) continue;
    const change = await loadChangeSet(app.db, stream);
    // What is of another repository here is not for this one to go on with; and what that server has no part in is not brought.
    if (change && change.repository !== repository) continue;
    if (!change && (await blobAt(folder, tip, `keys/${key}.json`)) === null) continue;
    if (((await sizeProblem(folder, fetched)) ?? (await formatProblem(folder, tip))) !== null) continue;
    if (change) await writeLedger(app, stream);
    await app.inTurn(`ledger ${stream}`, async () => {
      await settleLedger(folder, stream);
      await joinLedger(folder, stream, fetched);
      await rememberLedger(folder, stream);
    });
    moved.set(stream, tip);
  }
  if (moved.size === 0) return done({ changes: [], notTaken: [], unknown: [], whole: [] });
  const taken = await takeInLedgers(app, { id: repository }, new Set([key]), {
    streams: moved.keys(),
    elsewhere: { name },
  });
  // What was left out for now, such as a commit that is not here yet, is looked at again.
  if (taken.notTaken.length === 0)
    for (const [stream, tip] of moved) known.set(`${repository} ${key} ${from}/ledger/${stream}`, tip);
  return done(taken);
}

/** Neighbours that are about to be asked, since a message came. */
const waiting = new Set<string>();

/** Whether a webhook is a neighbour’s: signed as Standard Webhooks are, with the secret that was agreed. It is asked at once then. */
export async function heard(
  app: AppContext,
  repository: string,
  name: string,
  body: string,
  headers: Record<string, string>,
): Promise<Outcome<null>> {
  const neighbour = await app.db
    .selectFrom("neighbours")
    .innerJoin("repositories", "repositories.id", "neighbours.repository")
    .selectAll("neighbours")
    .where("repositories.name", "=", repository)
    .where("neighbours.name", "=", name)
    .executeTakeFirst();
  const unknown = refuse("missing", "There is no such neighbour, or this is not its signature.");
  if (!neighbour || neighbour.bell === "") return unknown;
  const { Webhook } = await import("standardwebhooks");
  try {
    new Webhook(neighbour.bell).verify(body, headers);
  } catch {
    return unknown;
  }
  // However many messages come, one asking waits at most: it brings what all of them are about.
  const place = `${neighbour.repository} ${name}`;
  if (waiting.has(place)) return done(null);
  waiting.add(place);
  void app
    .inTurn(`bell ${place}`, () => {
      waiting.delete(place);
      return exchangeWith(app, neighbour);
    })
    .catch((error) => app.log.error({ err: error, name }, "a neighbour was not asked"));
  return done(null);
}

const LOOKS_EVERY = 15_000;
const AT_ONCE = 4;

/** Asks each neighbour of each repository when it is time. One that does not answer is asked again then, and nothing is lost by that. */
export class Neighbours {
  private readonly steps: Repeated;
  private readonly stopping = new AbortController();

  constructor(private readonly app: AppContext) {
    this.steps = new Repeated(
      LOOKS_EVERY,
      () => this.work(),
      (error) => app.log.error({ err: error }, "a neighbour could not be asked"),
    );
  }

  private async work(): Promise<void> {
    const all = await this.app.db.selectFrom("neighbours").selectAll().execute();
    const due = all.filter(({ asked_at, every }) => (asked_at ?? 0) + every * 60_000 <= this.app.now());
    // A few at a time: one that hangs keeps nobody but itself.
    await Promise.all(Array.from({ length: AT_ONCE }, () => this.askEach(due)));
  }

  private async askEach(due: NeighboursTable[]): Promise<void> {
    for (let next = due.shift(); next && !this.stopping.signal.aborted; next = due.shift()) {
      const { name } = next;
      await exchangeWith(this.app, next, this.stopping.signal).catch((error) =>
        this.app.log.error({ err: error, name }, "a neighbour could not be asked"),
      );
    }
  }

  start(): void {
    this.steps.start();
  }

  /** Breaks off what is being fetched: one that hangs does not hold up the end. */
  stop(): Promise<void> {
    this.stopping.abort();
    return this.steps.stop();
  }

  step(): Promise<void> {
    return this.steps.step();
  }
}
