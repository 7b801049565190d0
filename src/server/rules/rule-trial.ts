import { done, type Outcome } from "@/core/plain/outcome";
import { type ChangeSet, goesOn } from "@/core/review/state";
import { evaluateGate } from "@/core/rules/gate";
import { NO_RULE, type Rules, ruleOf, withoutGroups } from "@/core/rules/rule";
import { wrongRules } from "@/core/rules/wrong";
import type { RuleTrial } from "@/core/views/keeping-view";
import { loadChangeSets } from "@/store/log";
import type { Person } from "../access/person";
import { enter } from "../access/repositories";
import type { AppContext } from "../app/context";
import { gateFactsFor, Look } from "./facts";
import { parseRules, rulesOf, surroundingsOf } from "./rules";

/** So many merged change sets are looked at, the newest first, beside all that are open. */
const LATELY = 30;

/** Evaluates rules for the change sets that are there, open ones and those merged lately: what would be held up, and why. */
export async function tryRules(
  app: AppContext,
  person: Person,
  repositoryName: string,
  given: unknown,
): Promise<Outcome<RuleTrial>> {
  const entered = await enter(app, person, repositoryName, "keeper");
  if (!entered.ok) return entered;
  const { repository } = entered.value;
  const parsed = parseRules(given);
  if (!parsed.ok) return parsed;
  const rules = parsed.value;
  const { errors, notes } = wrongRules(rules, await surroundingsOf(app, repository));
  const inHere = app.db.selectFrom("change_sets").select("id").where("repository", "=", repository.id);
  const rows = [
    ...(await inHere.where("state", "in", ["open", "draft"]).orderBy("number", "desc").execute()),
    ...(await inHere.where("state", "=", "merged").orderBy("settled_at", "desc").limit(LATELY).execute()),
  ];
  const changes = await loadChangeSets(
    app.db,
    rows.map(({ id }) => id),
  );
  const tried = [];
  const look = new Look(app.db);
  const counting = await rulesOf(app.db, repository.id);
  const blockedBy = async (change: ChangeSet, by: Rules) => {
    const found = ruleOf(by, change.target);
    const rule = found ? withoutGroups(found, by.groups) : NO_RULE;
    const gate = evaluateGate(change, rule, await gateFactsFor(app, app.db, change, rule, look));
    return gate.conditions.filter(({ met }) => !met);
  };
  for (const change of changes) {
    const found = ruleOf(rules, change.target);
    const blocked = await blockedBy(change, rules);
    // By what is asked, not by how much: one approval in the place of two holds nothing up that goes through now.
    const now = new Set((await blockedBy(change, counting)).map(({ id }) => id));
    tried.push({
      number: change.number,
      title: change.title,
      state: change.state,
      target: change.target,
      rule: found?.branches ?? null,
      blocked: blocked.map(({ says }) => says),
      newly: blocked.flatMap(({ id, says }) => (now.has(id) ? [] : [says])),
      open: goesOn(change),
    });
  }
  return done({ errors, notes, tried });
}
