import { done, type Outcome, refuse } from "../outcome";
import { reviewersIn } from "../rules/facts";
import { type Actor, authorOrKeeper, notOpen, notReady, wrongText } from "./checks";
import type { Command, Facts } from "./command";
import type { NewEvent } from "./events";
import { sameInvited } from "./evolve";
import { atLeast } from "./roles";
import { type ChangeSet, newest, standings } from "./state";

/** Who is asked, asked again, or no longer stands in the way. */

export function decideAsking(
  change: ChangeSet,
  { invited }: Extract<Command, { kind: "ask" }>,
  { actor, gate }: Facts,
): Outcome<NewEvent> {
  const reviewers = reviewersIn(gate);
  const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "ask for a review");
  if (wrong) return wrong;
  if (invited.length === 0) return refuse("invalid", "Say who is to be asked.");
  for (const one of invited) {
    if ("role" in one) continue;
    if (one.person === change.author)
      return refuse("invalid", "The author of a change set cannot be asked to review it.");
    if (!reviewers.includes(one.person))
      return refuse("invalid", "Only contributors and keepers of this repository can be asked to review.");
  }
  const fresh = invited.filter((one) => !change.asked.some((old) => sameInvited(old, one)));
  if (fresh.length === 0) return refuse("conflict", "They are asked already.");
  return done({ kind: "asked", data: { invited: fresh } });
}

export function decideAskingAgain(change: ChangeSet, people: readonly string[], { actor }: Facts): Outcome<NewEvent> {
  const wrong = notReady(change) ?? authorOrKeeper(change, actor, "ask to look again");
  if (wrong) return wrong;
  if (people.length === 0) return refuse("invalid", "Say who is to look again.");
  const { number } = newest(change);
  const may = new Set(canLookAgain(change));
  const unfit = people.find((id) => !may.has(id));
  if (unfit !== undefined) {
    return refuse(
      "conflict",
      change.again.some(({ person, revision }) => person === unfit && revision === number)
        ? `They were asked to look at r${number} already, and have not answered yet.`
        : "Only who reviewed it before, or was asked to, can be asked to look again; anyone else can be asked for a review.",
    );
  }
  return done({ kind: "asked-again", data: { people: [...new Set(people)], revision: number } });
}

/** Who can be asked to look at the newest revision again: who reviewed before or was asked by name, and is not asked for it already. */
export function canLookAgain(
  change: Pick<ChangeSet, "revisions" | "again" | "asked" | "reviews" | "author">,
): string[] {
  const { number } = newest(change);
  const people = new Set(change.reviews.map(({ by }) => by));
  for (const one of change.asked) if ("person" in one) people.add(one.person);
  people.delete(change.author);
  for (const { person, revision } of change.again) if (revision === number) people.delete(person);
  return [...people];
}

export function decideLifting(change: ChangeSet, person: string, reason: string, actor: Actor): Outcome<NewEvent> {
  const wrong = notOpen(change) ?? wrongText("The reason", reason);
  if (wrong) return wrong;
  const request = standings(change).find((one) => one.person === person && one.verdict === "request-changes");
  if (!request) return refuse("conflict", "No request for changes of theirs stands.");
  if (actor.id !== person) {
    if (!atLeast(actor.role, "keeper"))
      return refuse("forbidden", "Only who asked for changes can take that back; or a keeper, with a reason.");
    if (actor.id === change.author || actor.id === newest(change).pusher)
      return refuse("forbidden", "What was asked of your own work is for another keeper to lift.");
    if (reason.trim() === "")
      return refuse("invalid", "Say why the request no longer stands: the reason stays on the record.");
  }
  return done({ kind: "lifted", data: { person, reason: reason.trim() } });
}

export function decideReadiness(change: ChangeSet, ready: boolean, actor: Actor): Outcome<NewEvent> {
  const wrong = notOpen(change) ?? authorOrKeeper(change, actor, ready ? "say that it is ready" : "make it a draft");
  if (wrong) return wrong;
  if ((change.state === "open") === ready)
    return refuse("conflict", ready ? "It is ready already." : "It is a draft already.");
  return done(ready ? { kind: "readied", data: {} } : { kind: "drafted", data: {} });
}
