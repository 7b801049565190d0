import { createHash } from "node:crypto";
import { linkedItems } from "@/core/house/work/trailers";
import { needsOf } from "@/core/review/decide";
import type { Facts } from "@/core/review/families/family";
import type { CommandName, FactsFor } from "@/core/review/families/table";
import type { Role } from "@/core/review/roles";
import { type ChangeSet, goesOn, newest } from "@/core/review/state";
import { type GateFacts, type GatePerson, NO_FACTS } from "@/core/rules/facts";
import { type Rule, withoutGroups } from "@/core/rules/rule";
import { countCommits, type SeriesShape, seriesShape } from "@/git/history/commits";
import { type MergeTree, mergeTree } from "@/git/merge";
import { branchCommit, branchCommits } from "@/git/repository";
import type { Queries } from "@/store/database";
import { peopleIn, roleOf } from "../access/people";
import type { Person } from "../access/person";
import { folderOf } from "../access/repositories";
import type { AppContext } from "../app/context";
import { shelf, type Weight } from "../app/kept";
import { filesBetween } from "../reading/files-between";
import { readingOf } from "../reading/reading";
import type { ReadStates } from "../reading/states";
import { ruleFor, rulesOf } from "./rules";

/** What was looked up for one request, so that it is asked once for many change sets: rules, people, roles, and where branches are. */
export class Look {
  private readonly known = new Map<string, Promise<unknown>>();
  private readonly tips = new Map<string, string | null>();
  constructor(private readonly db: Queries) {}

  rule(repository: string, branch: string): Promise<Rule> {
    return this.once(`rule ${repository} ${branch}`, () => ruleFor(this.db, repository, branch));
  }

  people(repository: string): Promise<GatePerson[]> {
    return this.once(`people ${repository}`, () => peopleIn(this.db, repository));
  }

  /** The rules of a repository, in words that differ when they do. */
  stateOfRule(repository: string, branch: string): Promise<string> {
    return this.once(`rule state ${repository} ${branch}`, async () => stateIn(await this.rule(repository, branch)));
  }

  /** The people of a repository and what they are there, in words that differ when they do. */
  stateOfPeople(repository: string): Promise<string> {
    return this.once(`people state ${repository}`, async () => stateIn(await this.people(repository)));
  }

  /** Whether some rule of a repository names a person, or a group that they are in, as a steward. */
  async isSteward({ name }: { name: string }, repository: string): Promise<boolean> {
    const { rules, groups } = await this.once(`rules ${repository}`, () => rulesOf(this.db, repository));
    return rules.some((rule) => withoutGroups(rule, groups).stewards.some(({ of }) => of.includes(name)));
  }

  /** Whether somebody is of another installation: their branches need not be here. */
  isElsewhere(person: string): Promise<boolean> {
    return this.once(`elsewhere ${person}`, async () => {
      const row = await this.db
        .selectFrom("ledger_people")
        .select("person")
        .where("person", "=", person)
        .executeTakeFirst();
      return row !== undefined;
    });
  }

  role(person: string, repository: string): Promise<Role | null> {
    return this.once(`role ${person} ${repository}`, () => roleOf(this.db, person, repository));
  }

  /** Ids of those to whom addresses of mail belong. */
  async byAddress(addresses: readonly string[]): Promise<string[]> {
    if (addresses.length === 0) return [];
    const ids = await this.once("addresses", async () => {
      const rows = await this.db.selectFrom("people").select(["id", "email"]).execute();
      return new Map(rows.map(({ id, email }) => [email.toLowerCase(), id]));
    });
    return [...new Set(addresses.flatMap((address) => ids.get(address.toLowerCase()) ?? []))];
  }

  /** The commit a branch points at; null when there is no such branch. */
  tip(folder: string, branch: string): Promise<string | null> {
    const known = this.tips.get(tipKey(folder, branch));
    if (known !== undefined) return Promise.resolve(known);
    return this.once(`tip ${folder} ${branch}`, () => branchCommit(folder, branch));
  }

  /** The same of several branches, in their order: asked of git together. */
  async tipsOf(folder: string, branches: readonly string[]): Promise<(string | null)[]> {
    const found = await branchCommits(folder, branches);
    for (const [at, tip] of found.entries()) this.tips.set(tipKey(folder, branches[at]), tip);
    return found;
  }

  private once<T>(key: string, ask: () => Promise<T>): Promise<T> {
    const asked = (this.known.get(key) as Promise<T> | undefined) ?? ask();
    this.known.set(key, asked);
    return asked;
  }
}

function tipKey(folder: string, branch: string): string {
  return `${folder} ${branch}`;
}

/** What was put in words already: who may see a repository is the same object for every request, as long as it is the same. */
const STATES = new WeakMap<object, string>();

function stateIn(value: object): string {
  const state = STATES.get(value) ?? createHash("sha256").update(JSON.stringify(value)).digest("base64");
  STATES.set(value, state);
  return state;
}

/** What git knows of a change set that the gate has to know. */
export type GitFacts = Omit<GateFacts, "now" | "people" | "makers"> & {
  /** Mail addresses of who wrote or committed its commits; none where no rule asks. */
  addresses: readonly string[];
};

/** What a decision about a change set needs to know beyond it: who asks, what the target asks, and what the gate has to know. */
export async function factsFor(
  app: AppContext,
  db: Queries,
  change: ChangeSet,
  person: Person,
  look: Look = new Look(db),
): Promise<Facts> {
  const rule = await look.rule(change.repository, change.target);
  return factsFrom(app, db, change, person, await gitFactsFor(app, change, rule, { look }), look);
}

/** The same with what git knows given, or not needed: then nothing but the database is asked. */
export async function factsFrom(
  app: AppContext,
  db: Queries,
  change: ChangeSet,
  person: Person,
  git: GitFacts | null,
  look: Look = new Look(db),
): Promise<Facts> {
  const rule = await look.rule(change.repository, change.target);
  const role = await look.role(person.id, change.repository);
  const { addresses = [], ...known } = git ?? NO_GIT_FACTS;
  const people = await look.people(change.repository);
  const makers = await look.byAddress(addresses);
  const gate = { ...known, now: app.now(), people, makers };
  return { actor: { id: person.id, role, machine: person.machine }, rule, people, gate };
}

/** No more of it than deciding a kind of command needs; what of that git knows is given. */
export async function factsNeeded<K extends CommandName>(
  app: AppContext,
  db: Queries,
  kind: K,
  change: ChangeSet,
  person: Person,
  git: GitFacts | null,
): Promise<FactsFor<K>> {
  const needs = needsOf(kind);
  if (needs.length > 0) return factsFrom(app, db, change, person, git);
  const role = await roleOf(db, person.id, change.repository);
  return { actor: { id: person.id, role, machine: person.machine } } as FactsFor<K>;
}

const NO_GIT_FACTS: GitFacts = { ...NO_FACTS, addresses: [] };

/** What the gate of a change set is evaluated with, for who only looks. */
export async function gateFactsFor(
  app: AppContext,
  db: Queries,
  change: ChangeSet,
  rule: Rule,
  look: Look = new Look(db),
): Promise<GateFacts> {
  const { addresses, ...git } = await gitFactsFor(app, change, rule, { look });
  const people = await look.people(change.repository);
  return { ...git, now: app.now(), people, makers: await look.byAddress(addresses) };
}

/**
 * What is asked of git for a gate; commits never change, so what they tell is asked once. Who is `patient` waits until the lines to read
 * are counted; others are told that they are being counted.
 */
export async function gitFactsFor(
  app: AppContext,
  change: ChangeSet,
  rule: Rule,
  { look = new Look(app.db), patient = false }: { look?: Look; patient?: boolean } = {},
): Promise<GitFacts> {
  const folder = folderOf(app, { id: change.repository });
  const { base, head, target: revisionTarget } = newest(change);
  const [paths, series, target, tip] = await Promise.all([
    pathsOf(app, folder, base, head),
    seriesOf(app, folder, change),
    goesOn(change) ? look.tip(folder, change.target) : null,
    goesOn(change) ? look.tip(folder, change.source) : null,
  ]);
  const points = { from: base, to: head, settings: revisionTarget };
  return {
    paths:
      target && rule.stewards.length > 0
        ? [...new Set([...paths, ...(await landing(app, folder, target, head))])]
        : paths,
    // The branch of somebody elsewhere is offered by its commits, which came along; where it is here as well, it counts.
    ...(goesOn(change) && (tip !== null || !(await look.isElsewhere(change.author))) ? { tip } : {}),
    addresses: rule.approvals.makers ? [] : series.commits.flatMap(({ addresses }) => addresses),
    commits: series.commits,
    conflicts: target ? await conflictsWith(app, folder, target, head) : [],
    behind: target && rule.upToDate ? await behind(app, folder, target, head) : 0,
    toRead: rule.mostToRead === null ? null : await toRead(app, folder, points, patient),
    workItems: linkedItems(change.links, change.description, series.named).map(({ item }) => item),
  };
}

/** How many revisions are remembered: more than are open at a time. */
const KEPT = 1_000;
/** And how much of them, in characters: somebody may offer a hundred that touch all files there are. */
const NAMES: Weight<readonly string[]> = {
  of: (names) => names.reduce((sum, name) => sum + 20 + name.length, 0),
  most: 30_000_000,
};

const PATHS = shelf<string[]>("paths", KEPT, NAMES);

/** Every path that a revision touches, kept apart from what else is known of its files: lists ask for many at once. */
function pathsOf(app: AppContext, folder: string, base: string, head: string): Promise<string[]> {
  return PATHS(app).get(`${folder}\0${base}\0${head}`, async () =>
    (await filesBetween(app, folder, { from: base, to: head })).map(({ path }) => path),
  );
}

const SERIES = shelf<SeriesShape>("series", KEPT, {
  of: ({ commits }) =>
    commits.reduce((sum, { subject, addresses }) => sum + 200 + subject.length + addresses.join("").length, 0),
  most: NAMES.most,
});

/** The commits of the newest revision, with what rules may ask of them. */
export function seriesOf(app: AppContext, folder: string, change: ChangeSet): Promise<SeriesShape> {
  const { base, head } = newest(change);
  return SERIES(app).get(`${folder}\0${base}\0${head}`, () => seriesShape(folder, base, head));
}

const TOGETHER = shelf<MergeTree>("together", 2 * KEPT, {
  of: (merged) => (merged.clean ? 0 : NAMES.of(merged.paths)),
  most: NAMES.most,
});

/** What comes of bringing two commits together. Both never change, so it is tried once. */
async function together(app: AppContext, folder: string, target: string, head: string): Promise<MergeTree> {
  const key = `${folder}\0${target}\0${head}`;
  const kept = TOGETHER(app);
  const merged = await kept.get(key, () => mergeTree(folder, target, head));
  // What took too long may have done so on a busy machine.
  if (!merged.clean && merged.late) kept.forget(key);
  return merged;
}

/** Files in which two commits conflict. */
export async function conflictsWith(app: AppContext, folder: string, target: string, head: string): Promise<string[]> {
  const merged = await together(app, folder, target, head);
  return merged.clean ? [] : merged.paths;
}

const LANDINGS = shelf<string[]>("landings", KEPT, NAMES);

/**
 * Every path of the target that merging would change: other ones than the revision touches where the target has renamed files since. Whoever looks after
 * a file does so under the name that it has there.
 */
async function landing(app: AppContext, folder: string, target: string, head: string): Promise<string[]> {
  const merged = await together(app, folder, target, head);
  if (!merged.clean) return [];
  return LANDINGS(app).get(`${folder}\0${target}\0${merged.tree}`, async () =>
    (await filesBetween(app, folder, { from: target, to: merged.tree })).map(({ path }) => path),
  );
}

const BEHIND = shelf<number>("behind", 200);

function behind(app: AppContext, folder: string, target: string, head: string): Promise<number> {
  return BEHIND(app).get(`${folder}\0${head}\0${target}`, () => countCommits(folder, head, target));
}

/** How long who looks at the gate waits for a count before it says that it is being made. */
const PATIENCE = 400;

async function toRead(app: AppContext, folder: string, points: ReadStates, patient: boolean): Promise<number | null> {
  const counting = readingOf(app, folder, points).then(({ toRead: lines }) => lines);
  if (patient) return counting;
  return Promise.race([counting, new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE).unref())]);
}
