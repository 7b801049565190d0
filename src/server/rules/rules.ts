import * as v from "valibot";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { wrongIn } from "@/core/plain/shape";
import type { No } from "@/core/review/guards";
import {
  type EditionState,
  guardOf,
  NO_RULE,
  type Rule,
  type Rules,
  ruleOf,
  rulesSchema,
  withoutGroups,
} from "@/core/rules/rule";
import { type RuleSurroundings, wrongRules } from "@/core/rules/wrong";
import { branches, filesIn } from "@/git/repository";
import type { Queries } from "@/store/database";
import { madeOnce } from "@/store/made-once";
import { audit, type Doer } from "../access/audit";
import { peopleIn } from "../access/people";
import type { Person } from "../access/person";
import { enter, findRepository, folderOf, type Repository } from "../access/repositories";
import type { AppContext } from "../app/context";

/** One edition of the rules: who made it, when, and what they said of it. */
export interface RuleEdition {
  version: number;
  by: string | null;
  at: number;
  note: string;
  rules: Rules;
  state: EditionState;
  /** The second keeper, who agreed to it or dropped it; null where nobody had to. */
  second: { by: string; at: number } | null;
}

/** The rules that count now. */
export function rulesOf(db: Queries, repository: string): Promise<Rules> {
  return madeOnce(db, `rules of ${repository}`, async () => {
    const row = await db
      .selectFrom("rule_sets")
      .select("rules")
      .where("repository", "=", repository)
      .where("state", "=", "agreed")
      .orderBy("version", "desc")
      .limit(1)
      .executeTakeFirst();
    return readRules(row?.rules ?? '{"rules":[]}');
  });
}

/** The edition that counts now; null where there is none. */
export async function ruleVersion(db: Queries, repository: string): Promise<number | null> {
  const row = await db
    .selectFrom("rule_sets")
    .select((select) => select.fn.max("version").as("last"))
    .where("repository", "=", repository)
    .where("state", "=", "agreed")
    .executeTakeFirst();
  return row?.last ?? null;
}

/** Fills in what was not said: an edition of before a condition existed does not ask for it. */
function readRules(json: string): Rules {
  return v.parse(rulesSchema, JSON.parse(json));
}

/** What a branch asks, with its groups opened; {@link NO_RULE} where no rule fits. */
export async function ruleFor(db: Queries, repository: string, branch: string): Promise<Rule> {
  const rules = await rulesOf(db, repository);
  const rule = ruleOf(rules, branch);
  return rule ? withoutGroups(rule, rules.groups) : NO_RULE;
}

/** Why nothing may be written to a branch but by a change set into it; null where it may. */
export async function guarded(db: Queries, repository: string, branch: string): Promise<No | null> {
  const guard = guardOf(await rulesOf(db, repository), branch);
  if (!guard) return null;
  return refuse(
    "conflict",
    `${branch} is guarded by the rule for ${guard.branches}: changes reach it by a change set only.`,
  );
}

/** Every edition, the newest first. */
export async function editionsOf(db: Queries, repository: string): Promise<RuleEdition[]> {
  const rows = await db
    .selectFrom("rule_sets")
    .selectAll()
    .where("repository", "=", repository)
    .orderBy("version", "desc")
    .execute();
  return rows.map(({ version, by, at, note, rules, state, second, second_at }) => ({
    version,
    by,
    at,
    note,
    rules: readRules(rules),
    state,
    second: second === null ? null : { by: second, at: second_at ?? at },
  }));
}

/** What rules are checked against: branches, files, and who may approve. */
export async function surroundingsOf(app: AppContext, repository: Repository): Promise<RuleSurroundings> {
  const folder = folderOf(app, repository);
  const known = await branches(folder);
  const main = known.find(({ name }) => name === repository.defaultBranch);
  const people = (await peopleIn(app.db, repository.id)).filter(({ role, machine }) => role !== "reader" && !machine);
  return {
    branches: known.map(({ name }) => name),
    paths: main ? (await filesIn(folder, main.commit)).map(({ path }) => path) : [],
    approvers: people.map(({ name }) => name),
    keepers: people.filter(({ role }) => role === "keeper").map(({ name }) => name),
  };
}

/** Takes rules as they come from a file or a form, and says what is wrong with them. */
export function parseRules(given: unknown): Outcome<Rules> {
  const parsed = v.safeParse(rulesSchema, given);
  if (parsed.success) return done(parsed.output);
  return refuse("invalid", wrongIn(parsed.issues, "The rules"));
}

/**
 * Saves a new edition of the rules. What can never be met is refused; `version` is the edition that was edited, so that none is lost. Where the rules that count
 * say so it waits for a second keeper.
 */
export async function saveRules(
  app: AppContext,
  person: Person,
  repositoryName: string,
  given: unknown,
  note: string,
  version: number | null,
  doer: Doer = { person: person.id, address: "" },
): Promise<Outcome<RuleEdition & { notes: string[] }>> {
  const entered = await enter(app, person, repositoryName, "keeper");
  if (!entered.ok) return entered;
  const kept = await keepRules(app, entered.value.repository, person.id, given, note, version);
  if (kept.ok) await audit(app, doer, "rules-saved", { repository: repositoryName, version: kept.value.version, note });
  return kept;
}

/** The same by the command line, where `by` is null: whoever runs it has the data, and waits for nobody. */
export async function keepRules(
  app: AppContext,
  repository: Repository,
  by: string | null,
  given: unknown,
  note: string,
  version: number | null,
): Promise<Outcome<RuleEdition & { notes: string[] }>> {
  const rules = parseRules(given);
  if (!rules.ok) return rules;
  const { errors, notes } = wrongRules(rules.value, await surroundingsOf(app, repository));
  if (errors.length > 0) return refuse("invalid", errors.join("\n"));
  if (note.length > 500) return refuse("invalid", "What you say of the change has at most 500 characters.");
  return app.db.transaction().execute(async (tx) => {
    const editions = await editionsOf(tx, repository.id);
    const last = editions.find(({ state }) => state === "agreed");
    const waiting = editions.find(({ state }) => state === "waits");
    if (version !== null && last && last.version !== version)
      return refuse(
        "conflict",
        "Someone else has changed the rules meanwhile. Look at theirs first: nothing was saved.",
      );
    if (waiting && by !== null)
      return refuse(
        "conflict",
        `Edition ${waiting.version} waits for a second keeper: it is agreed to, or dropped, before another is saved.`,
      );
    if (waiting)
      await tx
        .updateTable("rule_sets")
        .set({ state: "dropped", second_at: app.now() })
        .where("repository", "=", repository.id)
        .where("version", "=", waiting.version)
        .execute();
    const edition = { version: (editions[0]?.version ?? 0) + 1, by, at: app.now(), note: note.trim() };
    const state = by !== null && last?.rules.seconded ? "waits" : "agreed";
    await tx
      .insertInto("rule_sets")
      .values({ repository: repository.id, ...edition, rules: JSON.stringify(rules.value), state })
      .execute();
    return done({ ...edition, rules: rules.value, state, second: null, notes });
  });
}

/** Changes the rule of one branch or pattern and leaves the others: for the command line. */
export async function setRule(
  app: AppContext,
  repositoryName: string,
  branches: string,
  said: Partial<{ [K in keyof Rule]: unknown }>,
): Promise<Outcome<RuleEdition & { notes: string[] }>> {
  const repository = await findRepository(app.db, repositoryName);
  if (!repository) return refuse("missing", `There is no repository of the name “${repositoryName}”.`);
  const { rules, ...rest } = await rulesOf(app.db, repository.id);
  const before = rules.find((rule) => rule.branches === branches);
  const next = { ...(before ?? { branches, direct: branches === "**" }), ...said };
  const others = before ? rules.map((rule) => (rule === before ? next : rule)) : [next, ...rules];
  return keepRules(app, repository, null, { ...rest, rules: others }, "", null);
}
