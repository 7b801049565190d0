import {
  answeredByAt,
  byWeek,
  type ChangeRef,
  type Hindrance,
  hindrances,
  type Times,
  timesOf,
  type Week,
} from "@/core/house/times/times";
import { done, type Outcome } from "@/core/plain/outcome";
import type { ChangeSet } from "@/core/review/state";
import { withoutGroups } from "@/core/rules/rule";
import { loadChangeSets } from "@/store/log";
import { peopleIn } from "../../access/people";
import type { Person } from "../../access/person";
import { enter, repositoriesOf } from "../../access/repositories";
import type { AppContext } from "../../app/context";
import { linesOf } from "../../changes/lines";
import { loadsOf } from "../../reading/change-facts";
import { rulesOf } from "../../rules/rules";

/** So far back is looked, and at so many change sets, the newest first. */
const BACK = 26 * 7 * 86_400_000;
const MOST = 1_000;
/** Of so many that go on, the gates are asked. */
const MOST_OPEN = 200;

/** Paths of which one person alone is a steward. */
export interface LoneSteward {
  branches: string;
  paths: string;
  person: string;
}

export interface RepositoryTimes extends Times {
  hindrances: Hindrance[];
  lone: LoneSteward[];
  /** How many change sets it is made of. */
  many: number;
}

export interface OwnTimes extends Times {
  /** How long others waited for this person's first word, of those in which they said one; by the week in which it was offered. */
  given: Week[];
  many: number;
}

/** How long things take in a repository; for its keepers. */
export async function repositoryTimes(
  app: AppContext,
  person: Person,
  repo: string,
): Promise<Outcome<RepositoryTimes>> {
  const entered = await enter(app, person, repo, "keeper");
  if (!entered.ok) return entered;
  const { repository } = entered.value;
  const names = new Map([[repository.id, repository.name]]);
  const changes = await lately(app, [repository.id]);
  const { times, refOf } = await timesAmong(app, changes, names);
  const open = changes.filter(({ state }) => state === "open").slice(0, MOST_OPEN);
  const lines = await linesOf(
    app,
    person,
    open.map(({ id }) => id),
    names,
  );
  const refs = new Map(open.map((change) => [change.number, refOf(change)]));
  const gates = lines.flatMap(({ line: { number, gate } }) => {
    const change = refs.get(number);
    return gate && change ? [{ change, gate }] : [];
  });
  return done({
    ...times,
    hindrances: hindrances(gates),
    lone: await loneStewards(app, repository.id),
    many: changes.length,
  });
}

/** The same of what one person offered, wherever that was, and how long others waited for them. */
export async function ownTimes(app: AppContext, person: Person): Promise<OwnTimes> {
  const seen = await repositoriesOf(app, person);
  const names = new Map(seen.map(({ id, name }) => [id, name]));
  const changes = await lately(app, [...names.keys()], person.id);
  const own = changes.filter(({ author }) => author === person.id);
  const { times } = await timesAmong(app, own, names);
  const given = changes.flatMap((change) => {
    const at = answeredByAt(change, person.id);
    if (at === null) return [];
    return [{ change: refIn(names, change), at: change.readyAt, value: Math.max(0, at - change.readyAt) }];
  });
  return { ...times, given: byWeek(given), many: own.length };
}

/** The change sets of some repositories that were opened lately; with `of` those alone that somebody has to do with. */
async function lately(app: AppContext, repositories: readonly string[], of?: string): Promise<ChangeSet[]> {
  if (repositories.length === 0) return [];
  const rows = await app.db
    .selectFrom("change_sets")
    .select("id")
    .where("repository", "in", repositories)
    .where("opened_at", ">", app.now() - BACK)
    .$if(of !== undefined, (query) =>
      query.where("id", "in", (from) =>
        from.selectFrom("change_set_people").select("change_set").where("person", "=", of!),
      ),
    )
    .orderBy("opened_at", "desc")
    .limit(MOST)
    .execute();
  return loadChangeSets(
    app.db,
    rows.map(({ id }) => id),
  );
}

function refIn(names: ReadonlyMap<string, string>, { repository, number, title }: ChangeSet): ChangeRef {
  return { repository: names.get(repository) ?? "", number, title };
}

async function timesAmong(app: AppContext, changes: readonly ChangeSet[], names: ReadonlyMap<string, string>) {
  const loads = await loadsOf(app, changes);
  const machines = await app.db.selectFrom("people").select("id").where("machine", "=", 1).execute();
  const isMachine = new Set(machines.map(({ id }) => id));
  const refOf = (change: ChangeSet) => refIn(names, change);
  const told = changes.map((change) => ({ change, ref: refOf(change) }));
  const times = timesOf(
    told,
    (id) => isMachine.has(id),
    (id) => loads.get(id) ?? null,
    app.now(),
  );
  return { times, refOf };
}

async function loneStewards(app: AppContext, repository: string): Promise<LoneSteward[]> {
  const rules = await rulesOf(app.db, repository);
  const people = (await peopleIn(app.db, repository)).filter(({ machine }) => !machine);
  const holders = (name: string) =>
    name === "keeper" || name === "contributor"
      ? people.filter(({ role }) => role === name || role === "keeper").map((one) => one.name)
      : [name];
  return rules.rules.flatMap((given) => {
    const rule = withoutGroups(given, rules.groups);
    return rule.stewards.flatMap(({ paths, of }) => {
      const all = [...new Set(of.flatMap(holders))];
      return all.length === 1 ? [{ branches: rule.branches, paths, person: all[0] }] : [];
    });
  });
}
