import * as v from "valibot";
import { done, refuse } from "../../plain/outcome";
import { listed } from "../../plain/words";
import { reviewersAmong } from "../../rules/facts";
import { authorOrKeeper, notOpen, notReady } from "../guards";
import { type Invited, id, invited, sameInvited } from "../shapes";
import { type ChangeSet, newest } from "../state";
import { commandKind, eventKind, type NewOf } from "./family";

/** Who is asked for a review, asked to look again, or no longer asked. */

export const askingEvents = {
  asked: eventKind(v.object({ invited: v.array(invited) }), {
    live: true,
    evolve: (change, { by, at, data }) => {
      const asked = data.invited.map((one) => ({ ...one, by, at }));
      return { ...change, asked: [...without(change, data.invited), ...asked] };
    },
    told: (change, { by, data }, ofRole) => {
      // They are told when it is ready.
      if (change.state === "draft") return [];
      const asked = data.invited.flatMap((one) => ("person" in one ? [one.person] : ofRole(one.role)));
      return [...new Set(asked)].filter((person) => person !== by && person !== change.author);
    },
    says: ({ by }, { name, to }) => `${name(by)} asks for ${to ? "your" : "a"} review`,
    details: (_, { change }) => [{ kind: "words", words: change.description }],
  }),
  unasked: eventKind(v.object({ invited }), {
    evolve: (change, { data }) => ({ ...change, asked: without(change, [data.invited]) }),
    says: ({ by }, { name }) => `someone is not asked any more by ${name(by)}`,
  }),
  /** People who reviewed before, or were asked, and are to look at the newest revision. */
  "asked-again": eventKind(v.object({ people: v.array(v.string()), revision: v.number() }), {
    live: true,
    evolve: (change, { by, at, data: { people, revision } }) => {
      const others = change.again.filter(({ person }) => !people.includes(person));
      return { ...change, again: [...others, ...people.map((person) => ({ person, by, at, revision }))] };
    },
    told: (_, { by, data }) => data.people.filter((person) => person !== by),
    says: ({ by, data }, { name, to }) =>
      `${name(by)} asks ${listed(data.people.map((id) => (id === to ? "you" : name(id))))} to look again, at r${data.revision}`,
  }),
  "stepped-back": eventKind(v.object({}), {
    evolve: (change, { by }) => ({
      ...change,
      asked: without(change, [{ person: by }]),
      again: change.again.filter(({ person }) => person !== by),
    }),
    says: ({ by }, { name }) => `${name(by)} steps back`,
  }),
};

type New = NewOf<typeof askingEvents>;

const ask = v.object({ kind: v.literal("ask"), invited: v.array(invited) });
const unask = v.object({ kind: v.literal("unask"), invited });
const askAgain = v.object({ kind: v.literal("ask-again"), people: v.pipe(v.array(id), v.maxLength(200)) });
const stepBack = v.object({ kind: v.literal("step-back") });

export const askingRequests = [ask, unask, askAgain, stepBack] as const;

export const askingCommands = {
  ask: commandKind<v.InferOutput<typeof ask>, New, "people">(["people"], (change, { invited }, { actor, people }) => {
    const wrong = notOpen(change) ?? authorOrKeeper(change, actor, "ask for a review");
    if (wrong) return wrong;
    if (invited.length === 0) return refuse("invalid", "Say who is to be asked.");
    const reviewers = reviewersAmong(people);
    for (const one of invited) {
      if ("role" in one) continue;
      if (one.person === change.author)
        return refuse("invalid", "The author of a change set cannot be asked to review it.");
      if (!reviewers.includes(one.person))
        return refuse("invalid", "Only contributors and keepers of this repository can be asked to review.");
    }
    const fresh = invited.filter((one) => !isAsked(change, one));
    if (fresh.length === 0) return refuse("conflict", "They are asked already.");
    return done({ kind: "asked", data: { invited: fresh } });
  }),
  unask: commandKind<v.InferOutput<typeof unask>, New>([], (change, { invited }, { actor }) => {
    const wrong = authorOrKeeper(change, actor, "withdraw the asking");
    if (wrong) return wrong;
    if (!isAsked(change, invited)) return refuse("conflict", "They are not asked.");
    return done({ kind: "unasked", data: { invited } });
  }),
  "ask-again": commandKind<v.InferOutput<typeof askAgain>, New>([], (change, { people }, { actor }) => {
    const wrong = notReady(change) ?? authorOrKeeper(change, actor, "ask to look again");
    if (wrong) return wrong;
    if (people.length === 0) return refuse("invalid", "Say who is to look again.");
    const { number } = newest(change);
    const may = new Set(canLookAgain(change));
    const unfit = people.find((person) => !may.has(person));
    if (unfit !== undefined) {
      return refuse(
        "conflict",
        change.again.some(({ person, revision }) => person === unfit && revision === number)
          ? `They were asked to look at r${number} already, and have not answered yet.`
          : "Only who reviewed it before, or was asked to, can be asked to look again; anyone else can be asked for a review.",
      );
    }
    return done({ kind: "asked-again", data: { people: [...new Set(people)], revision: number } });
  }),
  "step-back": commandKind<v.InferOutput<typeof stepBack>, New>([], (change, _, { actor }) =>
    isAsked(change, { person: actor.id })
      ? done({ kind: "stepped-back", data: {} })
      : refuse("conflict", "You are not asked to review this by name."),
  ),
};

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

function isAsked(change: ChangeSet, invited: Invited): boolean {
  return change.asked.some((old) => sameInvited(old, invited));
}

function without(change: ChangeSet, invited: readonly Invited[]): ChangeSet["asked"] {
  return change.asked.filter((old) => !invited.some((one) => sameInvited(old, one)));
}
