import { done, type Outcome, refuse } from "@/core/plain/outcome";
import type { Role } from "@/core/review/roles";
import { madeOnce } from "@/store/made-once";
import { audit, type Doer } from "../access/audit";
import { personById } from "../access/people";
import type { Person } from "../access/person";
import { enter, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";
import { editionsOf, type RuleEdition } from "./rules";

/**
 * Agrees to an edition of the rules that waits, so that it counts, or drops it. Another keeper than the one who saved it agrees, and a person: whoever has a
 * machine account that is a keeper would be two. Every keeper can drop it.
 */
export async function settleEdition(
  app: AppContext,
  person: Person,
  repositoryName: string,
  version: number,
  agrees: boolean,
  doer: Doer,
): Promise<Outcome<RuleEdition>> {
  const entered = await enter(app, person, repositoryName, "keeper");
  if (!entered.ok) return entered;
  const { id: repository, name } = entered.value.repository;
  const settled = await app.db.transaction().execute(async (tx): Promise<Outcome<RuleEdition>> => {
    const edition = (await editionsOf(tx, repository)).find((one) => one.version === version);
    if (!edition) return refuse("missing", `There is no edition ${version} of the rules of ${name}.`);
    if (edition.state !== "waits") return refuse("conflict", `Edition ${version} does not wait for anybody any more.`);
    if (agrees && person.machine)
      return refuse("forbidden", "A machine account does not agree to rules: that is for a person.");
    const savedBy = edition.by && (await personById(tx, edition.by));
    if (agrees && savedBy && [savedBy.id, savedBy.owner].includes(person.id))
      return refuse("forbidden", "These rules are your own: another keeper agrees to them, or drops them.");
    const second = { by: person.id, at: app.now() };
    const state = agrees ? "agreed" : "dropped";
    await tx
      .updateTable("rule_sets")
      .set({ state, second: second.by, second_at: second.at })
      .where("repository", "=", repository)
      .where("version", "=", version)
      .execute();
    return done({ ...edition, state, second });
  });
  if (settled.ok) await audit(app, doer, agrees ? "rules-agreed" : "rules-dropped", { repository: name, version });
  return settled;
}

/** In which of somebody's repositories rules wait for them to agree, with the edition that does. */
export async function rulesThatWait(
  app: AppContext,
  person: Person,
  repositories: readonly (Pick<Repository, "id" | "name"> & { role: Role })[],
): Promise<{ repository: string; version: number }[]> {
  const kept = person.machine ? [] : repositories.filter(({ role }) => role === "keeper");
  if (kept.length === 0) return [];
  const names = new Map(kept.map(({ id, name }) => [id, name]));
  const rows = await madeOnce(app.db, "rules that wait", () =>
    app.db
      .selectFrom("rule_sets")
      .leftJoin("people", "people.id", "rule_sets.by")
      .select(["rule_sets.repository", "rule_sets.version", "rule_sets.by", "people.owner"])
      .where("rule_sets.state", "=", "waits")
      .execute(),
  );
  return rows.flatMap(({ repository, version, by, owner }) =>
    names.has(repository) && by !== person.id && owner !== person.id
      ? [{ repository: names.get(repository)!, version }]
      : [],
  );
}
