import { type ChangeSet, type Check, newest } from "../review/state";
import { type Condition, plain } from "./condition";
import type { Rule } from "./rule";

/** Checks that have to have passed on the newest revision. What a machine says of other checks informs, and is no condition. */
export function checkConditions(change: ChangeSet, { checks }: Rule): Condition[] {
  const here = checksOf(change);
  return checks.map((name) => {
    const check = here.find((one) => one.name === name);
    const met = check?.state === "passed";
    return plain("check", met, sentence(name, check, newest(change).number), whoCan(check), `check ${name}`);
  });
}

/** The checks of the newest revision. */
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

function whoCan(check: Check | undefined): string {
  if (check?.state === "failed" || check?.state === "skipped")
    return "The author can push another revision; or the check is run again.";
  return "The machine that runs it reports by itself.";
}
