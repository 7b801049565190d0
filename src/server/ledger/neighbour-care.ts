import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { NeighbourRequest, NeighboursView } from "@/core/views/neighbours-view";
import { audit, type Doer } from "../access/audit";
import { findRepository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { ownKeyId } from "./clone-keys";
import { joinPeople } from "./joined";
import { dropNeighbour, exchangeWith, keepNeighbour, neighboursOf } from "./neighbours";

/** Other servers and their people, as those see to them who keep the installation. Every change answers with how all of it is then. */

/** All neighbours of all repositories, and whom they brought. */
export async function neighboursView(app: AppContext): Promise<NeighboursView> {
  const rows = await app.db
    .selectFrom("neighbours")
    .innerJoin("repositories", "repositories.id", "neighbours.repository")
    .selectAll("neighbours")
    .select("repositories.name as of")
    .where("repositories.deleted_at", "is", null)
    .orderBy(["repositories.name", "neighbours.name"])
    .execute();
  const strangers = await app.db
    .selectFrom("ledger_people")
    .innerJoin("people", "people.id", "ledger_people.person")
    .leftJoin("people as here", "here.id", "ledger_people.joined")
    .select(["people.name", "people.full_name as fullName", "here.name as joined"])
    .orderBy("people.name")
    .execute();
  return {
    key: await ownKeyId(app),
    neighbours: rows.map(({ of, name, address, account, key, every, asked_at, problem, bell }) => ({
      repository: of,
      name,
      address,
      account,
      key,
      every,
      problem,
      askedAt: asked_at,
      isHeard: bell !== "",
    })),
    strangers,
  };
}

export function setNeighbour(
  app: AppContext,
  doer: Doer,
  { repository, ...asked }: NeighbourRequest,
): Promise<Outcome<NeighboursView>> {
  return within(app, repository, async (found) => {
    const kept = await keepNeighbour(app, found, asked);
    const { name, address, key } = asked;
    if (kept.ok) await audit(app, doer, "neighbour-set", { repository, name, address, key });
    return kept;
  });
}

export function endNeighbour(
  app: AppContext,
  doer: Doer,
  repository: string,
  name: string,
): Promise<Outcome<NeighboursView>> {
  return within(app, repository, async (found) => {
    const dropped = await dropNeighbour(app, found, name);
    if (dropped.ok) await audit(app, doer, "neighbour-dropped", { repository, name });
    return dropped;
  });
}

/** Asks a neighbour now. That it cannot be reached is no refusal: it is told beside its name. */
export function askNeighbour(app: AppContext, repository: string, name: string): Promise<Outcome<NeighboursView>> {
  return within(app, repository, async (found) => {
    const neighbour = (await neighboursOf(app, found)).find((one) => one.name === name);
    if (!neighbour) return refuse("missing", `There is no neighbour “${name}”.`);
    await exchangeWith(app, neighbour);
    return done(null);
  });
}

export async function joinStranger(
  app: AppContext,
  doer: Doer,
  { elsewhere, person }: { elsewhere: string; person: string | null },
): Promise<Outcome<NeighboursView>> {
  const joined = await joinPeople(app, elsewhere, person, doer);
  return joined.ok ? done(await neighboursView(app)) : joined;
}

/** Does something in a repository, and tells how all neighbours are then. */
async function within(
  app: AppContext,
  repository: string,
  action: (found: { id: string }) => Promise<Outcome<null>>,
): Promise<Outcome<NeighboursView>> {
  const found = await findRepository(app.db, repository);
  if (!found) return refuse("missing", `There is no repository “${repository}”.`);
  const outcome = await action(found);
  return outcome.ok ? done(await neighboursView(app)) : outcome;
}
