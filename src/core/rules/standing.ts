import { counted } from "../plain/words";
import { atLeast } from "../review/roles";
import { type ChangeSet, pushersOf, type Standing, sinceWhen, standings } from "../review/state";
import { type GateFacts, type GatePerson, whoIsBehind } from "./facts";
import type { Rule } from "./rule";

/** Whether someone's role lets them approve anything here. */
export function mayApprove(person: GatePerson | undefined): person is GatePerson {
  return person !== undefined && !person.machine && atLeast(person.role, "contributor");
}

/** Why the approval of a person does not count, as they stand to a change set; in the words that come after how many there are. */
export type Hindrance = keyof typeof HINDRANCES;

const HINDRANCES = {
  role: "of someone who may not approve here any more",
  author: "of its author",
  pusher: "of who pushed last",
  maker: "of someone who made some of it",
  outdated: "of an earlier revision",
} as const;

/**
 * Why an approval of this person would not count; null when it would. Whose machine account did something is taken for who did it.
 */
export function hindranceOf(change: ChangeSet, rule: Rule, facts: GateFacts): (id: string) => Hindrance | null {
  const { author, lastPusher, makers } = rule.approvals;
  const known = new Map(facts.people.map((person) => [person.id, person]));
  const behind = whoIsBehind(facts.people);
  const authors = new Set(behind(change.author));
  const pushers = new Set(pushersOf(change).flatMap(behind));
  const made = new Set(makers ? [] : [...facts.makers, ...makersOf(change)].flatMap(behind));
  return (id) => {
    if (!mayApprove(known.get(id))) return "role";
    if (!author && authors.has(id)) return "author";
    // Where the author's own approval counts, that they pushed it is no reason against it.
    if (!lastPusher && pushers.has(id) && !(author && authors.has(id))) return "pusher";
    if (made.has(id) && !(author && authors.has(id))) return "maker";
    return null;
  };
}

/** Who pushed a revision, or suggested something that was taken. */
function makersOf({ revisions, threads }: ChangeSet): string[] {
  const suggested = threads.filter(({ suggestions }) => suggestions.some(({ taken }) => taken !== null));
  return [...revisions.map(({ pusher }) => pusher), ...suggested.map(({ comments }) => comments[0].by)];
}

/** The approvals that stand, and why each of them does not count where it does not. */
export function approvalsOf(
  change: ChangeSet,
  rule: Rule,
  facts: GateFacts,
): { person: string; hindrance: Hindrance | null }[] {
  const hindered = hindranceOf(change, rule, facts);
  const since = sinceWhen(change);
  const approving = standings(change).filter(({ verdict }: Standing) => verdict === "approve");
  return approving.map(({ person, revision }) => ({
    person,
    hindrance: hindered(person) ?? (rule.approvals.keep || revision >= since ? null : "outdated"),
  }));
}

function counts(n: number, verb: string): string {
  return n === 1 ? `${verb}s` : verb;
}

/** How many approvals do not count, and why, in a sentence with a blank before it; empty when all do. */
export function hindrances(all: readonly { hindrance: Hindrance | null }[]): string {
  const many = new Map<Hindrance, number>();
  for (const { hindrance } of all) if (hindrance) many.set(hindrance, (many.get(hindrance) ?? 0) + 1);
  return [...many]
    .map(([why, n]) => {
      const not =
        why === "role" || why === "outdated"
          ? counts(n, "no longer count")
          : n === 1
            ? "does not count"
            : "do not count";
      return ` ${counted(n, "approval")} ${HINDRANCES[why]} ${not}.`;
    })
    .join("");
}
