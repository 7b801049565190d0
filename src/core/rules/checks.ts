import { listed } from "../plain/words";
import { atLeast } from "../review/roles";
import { type ChangeSet, type Check, newest, pushersOf } from "../review/state";
import { type Condition, plain } from "./condition";
import { type GateFacts, whoIsBehind } from "./facts";
import type { Rule } from "./rule";

/** Checks that have to have passed on the newest revision. What is said of others, or by others, informs and is no condition. */
export function checkConditions(change: ChangeSet, rule: Rule, facts: GateFacts): Condition[] {
  const here = checksOf(change);
  const believed = believes(change, rule, facts);
  return rule.checks.map((name) => {
    const told = here.filter((one) => one.name === name);
    const check = worstOf(told.filter(({ by }) => believed(by)));
    const met = check?.state === "passed";
    const says = sentence(name, check, newest(change).number);
    const others =
      check === undefined && told.length > 0 ? " What was told of it came from no machine that counts." : "";
    return plain("check", met, `${says}${others}`, whoCan(check, rule), `check ${name}`);
  });
}

/**
 * Whose word on the checks of a rule counts: that of machine accounts that it names; where it names none, of those that belong to a keeper,
 * or to who keeps the installation. Never that of who has a part in the change set, nor of a machine of theirs that no rule names.
 */
function believes(change: ChangeSet, { checksFrom }: Rule, { people }: GateFacts): (id: string) => boolean {
  const known = new Map(people.map((person) => [person.id, person]));
  const parts = new Set([change.author, ...pushersOf(change)].flatMap(whoIsBehind(people)));
  return (id) => {
    const machine = known.get(id);
    if (!machine?.machine || !atLeast(machine.role, "contributor") || parts.has(id)) return false;
    if (checksFrom !== null) return checksFrom.includes(machine.name);
    const owner = machine.owner === null ? null : known.get(machine.owner);
    return owner === null || (owner?.role === "keeper" && !parts.has(owner.id));
  };
}

/** From the best to the worst that can be said of a check. */
const FROM_BEST = ["passed", "running", "waiting", "skipped", "failed"] as const;

/** What several accounts said of one check, taken together: the worst of it. */
function worstOf(told: readonly Check[]): Check | undefined {
  let worst: Check | undefined;
  for (const one of told) if (!worst || FROM_BEST.indexOf(one.state) > FROM_BEST.indexOf(worst.state)) worst = one;
  return worst;
}

/** The checks of the newest revision, as each account told of them. */
export function checksOf(change: Pick<ChangeSet, "checks" | "revisions">): Check[] {
  const { head } = newest(change);
  return change.checks.filter(({ commit }) => commit === head);
}

function sentence(name: string, check: Check | undefined, revision: number): string {
  const summary = check?.summary ? `: ${check.summary.replace(/\.$/, "")}` : "";
  switch (check?.state) {
    case "passed":
      return `The check ${name} passed on r${revision}${summary}.`;
    case "failed":
      return `The check ${name} failed on r${revision}${summary}.`;
    case "skipped":
      return `The check ${name} was skipped on r${revision}${summary}; it has to pass.`;
    case "running":
    case "waiting":
      return `The check ${name} is ${check.state} on r${revision}.`;
    default:
      return `The check ${name} has not reported on r${revision} yet.`;
  }
}

function whoCan(check: Check | undefined, { checksFrom }: Rule): string {
  if (check?.state === "failed" || check?.state === "skipped")
    return "The author can push another revision; or the check is run again.";
  return checksFrom === null
    ? "The machine that runs it reports by itself."
    : `${listed(checksFrom)} reports by itself.`;
}
