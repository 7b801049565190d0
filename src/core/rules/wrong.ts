import { matcher } from "../pattern/pattern";
import { counted, listed } from "../plain/words";
import { type Rule, type Rules, withoutGroups } from "./rule";

/** What is known of a repository when its rules are saved. */
export interface RuleSurroundings {
  branches: readonly string[];
  /** Names of those who may approve: contributors and keepers who are no machines. */
  approvers: readonly string[];
  /** Names of the keepers among them. */
  keepers: readonly string[];
  /** Paths of the default branch. */
  paths: readonly string[];
}

/**
 * What is wrong with rules, in sentences. `errors` contradict themselves and are not saved; `notes` cannot be met, or mean nothing, as things are
 * now: people and branches may still come.
 */
export function wrongRules(rules: Rules, around: RuleSurroundings): { errors: string[]; notes: string[] } {
  const errors: string[] = [];
  const notes: string[] = [];
  const seen = new Set<string>();
  for (const given of rules.rules) {
    const { branches } = given;
    const rule = withoutGroups(given, rules.groups);
    if (seen.has(branches)) errors.push(`There are two rules for ${branches}: the second would never count.`);
    seen.add(branches);
    if (/^\*+(\/\*+)*$/.test(branches) && !rule.direct)
      errors.push(
        `${branches} fits every branch: nobody could push one to offer it. Say that pushes may go straight there.`,
      );
    if (!around.branches.some(matcher(branches))) notes.push(`${branches} fits no branch that is there now.`);
    for (const name of namedGroups(given))
      if (!Object.hasOwn(rules.groups, name)) errors.push(`${branches}: there is no group @${name}.`);
    errors.push(...contradictions(rule).map((words) => `${branches}: ${words}`));
    const few = tooFew(rule, around);
    if (few) notes.push(`${branches}: ${few}`);
    for (const { paths, of, needed } of rule.stewards) {
      const here = of.filter((name) => around.approvers.includes(name));
      const gone = of.filter((name) => !around.approvers.includes(name));
      if (here.length < needed)
        notes.push(
          `${branches}: ${counted(needed, "steward")} of ${paths} must agree, and of ${listed(of)} only ${counted(here.length, "person", "people")} may approve here.`,
        );
      else if (gone.length > 0)
        notes.push(
          `${branches}: ${listed(gone)} cannot approve here, and ${gone.length === 1 ? "is" : "are"} named as steward of ${paths}.`,
        );
      if (!around.paths.some(matcher(paths))) notes.push(`${branches}: ${paths} fits no file that is there now.`);
    }
  }
  if (rules.seconded && around.keepers.length < 2)
    notes.push(
      `A second keeper has to agree to what one changes of these rules, and there is ${around.keepers.length === 0 ? "none" : `only ${around.keepers[0]}`}: until there is another, they are changed where the server runs alone.`,
    );
  return { errors, notes };
}

/** Conditions of one rule that can never be met together, whoever is there. */
function contradictions(rule: Rule): string[] {
  const wrong: string[] = [];
  if (rule.linear && rule.merging.every((kind) => kind === "merge"))
    wrong.push("a linear history cannot be kept when merge commits are the only way of merging.");
  for (const { from: begins, until, why } of rule.freezes)
    if (Date.parse(begins) >= Date.parse(until)) wrong.push(`the freeze “${why}” ends before it begins.`);
  if (rule.approvals.from?.length === 0)
    wrong.push("the approvals of nobody are asked for: name someone, or leave it open.");
  return wrong;
}

/** Whether more approvals are asked for than there are people to give them; null when there are enough. */
function tooFew(
  { approvals: { count, author, lastPusher, from } }: Rule,
  { approvers }: RuleSurroundings,
): string | null {
  if (from === null) {
    // Whoever is the author, one fewer is left; the last pusher mostly is the author.
    const left = approvers.length - (author && lastPusher ? 0 : 1);
    if (count <= Math.max(0, left)) return null;
    return `${counted(count, "approval")} can never be given as things are: ${counted(approvers.length, "person", "people")} may approve here${author ? "" : ", and the author’s own does not count"}.`;
  }
  if (from.some((one) => one === "contributor" || one === "keeper")) return null;
  const able = approvers.filter((name) => from.includes(name)).length;
  if (count <= able) return null;
  return `${counted(count, "approval")} by ${listed(from)} can never be given as things are: ${counted(able, "person", "people")} of them may approve here.`;
}

function namedGroups({ approvals, stewards }: Rule): string[] {
  const names = [...(approvals.from ?? []), ...stewards.flatMap(({ of }) => of)];
  return [...new Set(names.flatMap((name) => (name.startsWith("@") ? [name.slice(1)] : [])))];
}
