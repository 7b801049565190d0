import { folded } from "../cautions/name-twins";
import { visible } from "../cautions/visible";
import { matcher } from "../pattern/pattern";
import { counted, inFigures, listed } from "../plain/words";
import type { ChangeSet } from "../review/state";
import { newest } from "../review/state";
import type { Condition } from "./condition";
import type { GateFacts, GatePerson } from "./facts";
import type { Rule } from "./rule";
import { approvalsOf, hindranceOf, hindrances, mayApprove } from "./standing";

/** The approvals that a rule asks for; null when it asks for none. */
export function approvalsCondition(change: ChangeSet, rule: Rule, facts: GateFacts): Condition | null {
  const { people } = facts;
  const { count, share, from } = rule.approvals;
  if (count === 0 && share === null) return null;
  const current = newest(change);
  const asked = askedByName(change);
  const ofAsked = share === null ? 0 : Math.ceil((asked.size * share) / 100);
  const known = new Map(people.map((person) => [person.id, person]));
  const wanted = (id: string) => isOf(known.get(id), from);
  const hindered = hindranceOf(change, rule, facts);
  const all = approvalsOf(change, rule, facts);
  const given = all.filter(({ person, hindrance }) => hindrance === null && wanted(person));
  const approved = new Set(given.map(({ person }) => person));
  const byAsked = [...approved].filter((id) => asked.has(id)).length;
  // Where only the share is missing, only those who were asked can meet it.
  const enough = given.length >= count;
  const canMeet = people
    .filter(({ id }) => !approved.has(id) && hindered(id) === null && wanted(id) && (!enough || asked.has(id)))
    .map(({ id }) => id);
  const ofWhom = from === null ? "" : ` by ${listed(from)}`;
  if (share !== null && asked.size === 0) {
    return {
      id: "approvals",
      key: "approvals",
      met: false,
      people: [],
      canMeet: [change.author],
      says: `Nobody is asked to review it by name, and ${change.target} asks for the approval of ${share} % of those who are.`,
      who: "The author asks someone.",
    };
  }
  const met = enough && byAsked >= ofAsked;
  const needed = Math.max(count, ofAsked);
  const ofShare =
    share === null
      ? ""
      : ` (${inFigures(byAsked)} of ${counted(asked.size, "person", "people")} asked; ${share} % are wanted)`;
  return {
    id: "approvals",
    key: "approvals",
    met,
    people: [...approved],
    says: met
      ? `${counted(given.length, "approval")} of r${current.number}; ${change.target} asks for ${needed}${ofWhom}${ofShare}.`
      : `${given.length} of ${counted(needed, "approval")} of r${current.number}${ofWhom}${ofShare}.${hindrances(all)}`,
    who: met ? null : whoCan(rule, canMeet.length < needed - given.length && people.length > 0),
    canMeet: met ? [] : canMeet,
  };
}

function whoCan({ approvals: { from, author, lastPusher, makers } }: Rule, tooFew: boolean): string {
  if (tooFew) {
    return from === null
      ? "Too few people may approve here: a keeper has to make someone a contributor."
      : `Too few of ${listed(from)} may approve here: a keeper has to change the rule, or make someone a contributor.`;
  }
  const but = [author ? "" : "the author", lastPusher ? "" : "who pushed last", makers ? "" : "who made some of it"];
  const not = but.filter((one) => one !== "");
  const who = from === null ? "Any contributor or keeper" : `Any of ${listed(from)}`;
  return `${who}${not.length === 0 ? "" : ` but ${listed(not)}`} can approve.`;
}

/** Those who are asked by name, for a first look or for another. */
function askedByName({ asked, again }: ChangeSet): Set<string> {
  return new Set([
    ...asked.flatMap((one) => ("person" in one ? [one.person] : [])),
    ...again.map(({ person }) => person),
  ]);
}

/** Whether someone's approval is one of those asked for: by their name, or by their role. */
function isOf(person: GatePerson | undefined, from: readonly string[] | null): boolean {
  if (from === null) return true;
  return person !== undefined && (from.includes(person.name) || from.includes(person.role));
}

/**
 * Of some paths those that stewards of a pattern look after. Also the ones that some machines take for such: where `Locks/key` comes to a tree with `locks/key`,
 * a checkout there has one of the two.
 */
function lookedAfter(paths: readonly string[]): (pattern: string) => string[] {
  const asKnown = paths.map(folded);
  return (pattern) => {
    const known = folded(pattern);
    const [plainly, somewhere] = [matcher(pattern), matcher(known)];
    // Nearly always both are the same question.
    const differs = (i: number) => known !== pattern || asKnown[i] !== paths[i];
    return paths.filter((path, i) => plainly(path) || (differs(i) && somewhere(asKnown[i])));
  };
}

/** One condition for each pattern of paths that the change set touches. */
export function stewardConditions(change: ChangeSet, rule: Rule, facts: GateFacts): Condition[] {
  if (rule.stewards.length === 0) return [];
  const given = new Map(approvalsOf(change, rule, facts).map((one) => [one.person, one]));
  const hindered = hindranceOf(change, rule, facts);
  const byName = new Map(facts.people.map((person) => [person.name, person]));
  const touchedOf = lookedAfter(facts.paths);
  return rule.stewards.flatMap(({ paths: pattern, of, needed }, i): Condition[] => {
    const touched = touchedOf(pattern);
    if (touched.length === 0) return [];
    const here = of.flatMap((name) => byName.get(name) ?? []).filter(mayApprove);
    const gone = of.filter((name) => !here.some((person) => person.name === name));
    const able = here.filter(({ id }) => hindered(id) === null);
    const agreed = able.filter(({ id }) => given.get(id)?.hindrance === null);
    const met = agreed.length >= needed;
    const canMeet = able.filter((person) => !agreed.includes(person)).map(({ id }) => id);
    const what = touched.length === 1 ? visible(touched[0]) : `${counted(touched.length, "file")} under ${pattern}`;
    const left = gone.length > 0 ? ` ${listed(gone)} cannot approve here any more.` : "";
    const not = hindrances(here.flatMap(({ id }) => given.get(id) ?? []));
    const missing = needed - agreed.length;
    const nobody = `Nobody who is left can: a keeper has to name other stewards for ${pattern}.`;
    return [
      {
        id: `steward ${i} ${pattern}`,
        key: "steward",
        met,
        people: agreed.map(({ id }) => id),
        says: met
          ? `${counted(agreed.length, "steward")} of ${pattern} agreed: ${what}.`
          : `${needed === 1 ? "A steward" : counted(needed, "steward")} of ${pattern} must agree: ${what}.${left}${not}`,
        who: met ? null : canMeet.length < missing ? nobody : `${listed(of)} can give it by approving.`,
        canMeet: met ? [] : canMeet,
      },
    ];
  });
}

/** Those whom a rule names as stewards of paths that change, and who may approve: by their ids, with the paths that they are asked for. */
export function proposedStewards(
  rule: Rule,
  paths: readonly string[],
  people: readonly GatePerson[],
): Map<string, string> {
  const byName = new Map(people.filter(mayApprove).map((person) => [person.name, person.id]));
  const found = new Map<string, string>();
  if (rule.stewards.length === 0) return found;
  const touchedOf = lookedAfter(paths);
  for (const { paths: pattern, of } of rule.stewards) {
    if (touchedOf(pattern).length === 0) continue;
    for (const name of of) {
      const id = byName.get(name);
      if (id !== undefined && !found.has(id)) found.set(id, pattern);
    }
  }
  return found;
}
