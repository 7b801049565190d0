import { atLeast } from "../review/roles";
import { type ChangeSet, newest, type Standing, sinceWhen, standings } from "../review/state";
import { counted, listed } from "../words";
import type { Condition } from "./condition";
import type { GateFacts, GatePerson } from "./facts";
import { matcher } from "./pattern";
import type { Rule } from "./rule";

/** The approvals that a rule asks for; null when it asks for none. */
export function approvalsCondition(change: ChangeSet, rule: Rule, { people }: GateFacts): Condition | null {
  const { count, share, author, lastPusher, keep, from } = rule.approvals;
  if (count === 0 && share === null) return null;
  const current = newest(change);
  const asked = change.asked.filter((one) => "person" in one).length;
  const needed = Math.max(count, share === null ? 0 : Math.ceil((asked * share) / 100));
  const known = new Map(people.map((person) => [person.id, person]));
  const mayCount = (id: string) =>
    (author || id !== change.author) && (lastPusher || id !== current.by) && counts(known.get(id), from);
  const given = standings(change).filter(({ verdict, person }) => verdict === "approve" && mayCount(person));
  const fresh = given.filter(({ revision }) => keep || revision >= sinceWhen(change));
  const outdated = given.length - fresh.length;
  const approved = new Set(fresh.map(({ person }) => person));
  const canMeet = people
    .filter(({ id }) => !approved.has(id) && mayCount(id) && mayApprove(known.get(id)))
    .map(({ id }) => id);
  const ofWhom = from === null ? "" : ` by ${listed(from)}`;
  if (share !== null && asked === 0 && count === 0) {
    return {
      ...{ id: "approvals", key: "approvals", met: false, people: [], canMeet: [change.author] },
      says: `Nobody is asked to review it by name, and ${change.target} asks for the approval of ${share} % of those who are.`,
      who: "The author asks someone.",
    };
  }
  const met = fresh.length >= needed;
  const ofShare = share === null ? "" : ` (${share} % of ${counted(asked, "person", "people")} asked)`;
  const gone =
    outdated > 0
      ? ` ${counted(outdated, "approval")} of an earlier revision no longer ${outdated === 1 ? "counts" : "count"}.`
      : "";
  return {
    ...{ id: "approvals", key: "approvals", met, people: fresh.map(({ person }) => person) },
    says: met
      ? `${counted(fresh.length, "approval")} of r${current.number}; ${change.target} asks for ${needed}${ofWhom}${ofShare}.`
      : `${fresh.length} of ${counted(needed, "approval")} of r${current.number}${ofWhom}${ofShare}.${gone}`,
    who: met ? null : whoCan(rule, canMeet.length < needed - fresh.length && people.length > 0),
    canMeet: met ? [] : canMeet,
  };
}

function whoCan({ approvals: { from, author, lastPusher } }: Rule, tooFew: boolean): string {
  if (tooFew) {
    return from === null
      ? "Too few people may approve here: a keeper has to make someone a contributor."
      : `Too few of ${listed(from)} may approve here: a keeper has to change the rule, or make someone a contributor.`;
  }
  const who = from === null ? "Any contributor or keeper" : `Any of ${listed(from)}`;
  return `${who}${author ? "" : " but the author"}${lastPusher ? "" : " and who pushed last"} can approve.`;
}

/** Whether someone's approval is one of those asked for: by their name, or by their role. */
function counts(person: GatePerson | undefined, from: readonly string[] | null): boolean {
  if (from === null) return true;
  return person !== undefined && (from.includes(person.name) || from.includes(person.role));
}

function mayApprove(person: GatePerson | undefined): boolean {
  return person !== undefined && !person.machine && atLeast(person.role, "contributor");
}

/** One condition for each pattern of paths that the change set touches. */
export function stewardConditions(change: ChangeSet, rule: Rule, { people, paths }: GateFacts): Condition[] {
  const { author, lastPusher, keep } = rule.approvals;
  const given = standings(change).filter(({ revision }) => keep || revision >= sinceWhen(change));
  const byName = new Map(people.map((person) => [person.name, person]));
  return rule.stewards.flatMap(({ paths: pattern, of, needed }, i): Condition[] => {
    const touched = paths.filter(matcher(pattern));
    if (touched.length === 0) return [];
    const here = of.flatMap((name) => byName.get(name) ?? []).filter(mayApprove);
    const gone = of.filter((name) => !here.some((person) => person.name === name));
    const able = here.filter(({ id }) => (author || id !== change.author) && (lastPusher || id !== newest(change).by));
    const agreed = able.filter(({ id }) =>
      given.some((one: Standing) => one.person === id && one.verdict === "approve"),
    );
    const met = agreed.length >= needed;
    const canMeet = able.filter((person) => !agreed.includes(person)).map(({ id }) => id);
    const what = touched.length === 1 ? touched[0] : `${counted(touched.length, "file")} under ${pattern}`;
    const left = gone.length > 0 ? ` ${listed(gone)} cannot approve here any more.` : "";
    const missing = needed - agreed.length;
    const nobody = `Nobody who is left can: a keeper has to name other stewards for ${pattern}.`;
    return [
      {
        ...{ id: `steward ${i} ${pattern}`, key: "steward", met, people: agreed.map(({ id }) => id) },
        says: met
          ? `${counted(agreed.length, "steward")} of ${pattern} agreed: ${what}.`
          : `${needed === 1 ? "A steward" : counted(needed, "steward")} of ${pattern} must agree: ${what}.${left}`,
        who: met ? null : canMeet.length < missing ? nobody : `${listed(of)} can give it by approving.`,
        canMeet: met ? [] : canMeet,
      },
    ];
  });
}
