import type { Facts } from "@/core/review/decide";
import type { Role } from "@/core/review/roles";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import type { GateFacts, GatePerson } from "@/core/rules/facts";
import type { Rule } from "@/core/rules/rule";
import { linkedItems, trailersIn } from "@/core/work/trailers";
import { mergeTree } from "@/git/merge";
import { branches, type CommitShape, commitShapes, countCommits } from "@/git/repository";
import type { Queries } from "@/store/database";
import { filesBetween } from "./files-between";
import type { Lens } from "./lens";
import { type Person, peopleIn, roleOf } from "./people";
import type { Points } from "./points";
import { readingOf } from "./reading";
import { folderOf } from "./repositories";
import { ruleFor } from "./rules";

/** What was looked up for one request, so that it is asked once for many change sets: rules, people, roles, and where branches are. */
export class Look {
  private readonly known = new Map<string, Promise<unknown>>();
  constructor(private readonly db: Queries) {}

  rule(repository: string, branch: string): Promise<Rule> {
    return this.once(`rule ${repository} ${branch}`, () => ruleFor(this.db, repository, branch));
  }

  people(repository: string): Promise<GatePerson[]> {
    return this.once(`people ${repository}`, () => peopleIn(this.db, repository));
  }

  role(person: string, repository: string): Promise<Role | null> {
    return this.once(`role ${person} ${repository}`, () => roleOf(this.db, person, repository));
  }

  /** Ids of those to whom addresses of mail belong. */
  async byAddress(addresses: readonly string[]): Promise<string[]> {
    const ids = await this.once("addresses", async () => {
      const rows = await this.db.selectFrom("people").select(["id", "email"]).execute();
      return new Map(rows.map(({ id, email }) => [email.toLowerCase(), id]));
    });
    return [...new Set(addresses.flatMap((address) => ids.get(address.toLowerCase()) ?? []))];
  }

  /** The commit a branch points at; null when there is no such branch. */
  async tip(folder: string, branch: string): Promise<string | null> {
    const all = await this.once(
      `tips ${folder}`,
      async () => new Map((await branches(folder)).map(({ name, commit }) => [name, commit])),
    );
    return all.get(branch) ?? null;
  }

  private once<T>(key: string, ask: () => Promise<T>): Promise<T> {
    const asked = (this.known.get(key) as Promise<T> | undefined) ?? ask();
    this.known.set(key, asked);
    return asked;
  }
}

/** What a decision about a change set needs to know beyond it: who asks, what the target asks, and what the gate has to know. */
export async function factsFor(
  lens: Lens,
  db: Queries,
  change: ChangeSet,
  person: Person,
  look: Look = new Look(db),
): Promise<Facts> {
  const rule = await look.rule(change.repository, change.target);
  const role = await look.role(person.id, change.repository);
  return {
    actor: { id: person.id, role, machine: person.machine === 1 },
    rule,
    gate: await gateFactsFor(lens, db, change, rule, look),
  };
}

/** What the gate of a change set is evaluated with. Commits never change, so what they tell is asked of git once. */
export async function gateFactsFor(
  lens: Lens,
  db: Queries,
  change: ChangeSet,
  rule: Rule,
  look: Look = new Look(db),
): Promise<GateFacts> {
  const folder = folderOf(lens, { id: change.repository });
  const { base, head, target: revisionTarget } = newest(change);
  const [paths, commits, target, tip] = await Promise.all([
    pathsOf(lens, folder, base, head),
    shapesOf(lens, folder, change),
    goesOn(change) ? look.tip(folder, change.target) : null,
    goesOn(change) ? look.tip(folder, change.source) : null,
  ]);
  const messages = commits.map(({ message }) => message);
  return {
    now: lens.now(),
    people: await look.people(change.repository),
    paths,
    ...(goesOn(change) ? { tip } : {}),
    makers: rule.approvals.makers ? [] : await look.byAddress(commits.flatMap(({ addresses }) => addresses)),
    commits: commits.map(({ id, subject, merge, message }) => ({
      ...{ id, subject, merge },
      signedOff: trailersIn(message).some(({ key }) => key.toLowerCase() === "signed-off-by"),
    })),
    conflicts: target ? await conflictsWith(lens, folder, target, head) : [],
    behind: target && rule.upToDate ? await behind(lens, folder, target, head) : 0,
    toRead:
      rule.mostToRead === null ? null : await toRead(lens, folder, { from: base, to: head, settings: revisionTarget }),
    workItems: linkedItems(change.links, change.description, messages).map(({ item }) => item),
  };
}

/** Every path that a revision touches, kept apart from what else is known of its files: lists ask for many at once. */
function pathsOf(lens: Lens, folder: string, base: string, head: string): Promise<string[]> {
  return lens
    .kept<string[]>("paths", KEPT)
    .get(`${folder}\0${base}\0${head}`, async () =>
      (await filesBetween(lens, folder, { from: base, to: head })).map(({ path }) => path),
    );
}

/** How many revisions are remembered: more than are open at a time. */
const KEPT = 1_000;

/** The commits of the newest revision, with what rules may ask of them. */
export function shapesOf(lens: Lens, folder: string, change: ChangeSet): Promise<CommitShape[]> {
  const { base, head } = newest(change);
  return lens
    .kept<CommitShape[]>("shapes", KEPT)
    .get(`${folder}\0${base}\0${head}`, () => commitShapes(folder, base, head));
}

/** Files in which two commits conflict. Both never change, so it is tried once. */
export function conflictsWith(lens: Lens, folder: string, target: string, head: string): Promise<string[]> {
  return lens.kept<string[]>("conflicts", 2 * KEPT).get(`${folder}\0${target}\0${head}`, async () => {
    const merged = await mergeTree(folder, target, head);
    return merged.clean ? [] : merged.paths;
  });
}

function behind(lens: Lens, folder: string, target: string, head: string): Promise<number> {
  return lens
    .kept<number>("behind", 200)
    .get(`${folder}\0${head}\0${target}`, () => countCommits(folder, head, target));
}

/** How long the gate waits for a count before it says that it is being made. */
const PATIENCE = 400;

function toRead(lens: Lens, folder: string, points: Points): Promise<number | null> {
  return Promise.race([
    readingOf(lens, folder, points).then(({ toRead: lines }) => lines),
    new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE)),
  ]);
}
