import * as v from "valibot";
import { labelName } from "../../house/labels/labels";
import { done, type Outcome, refuse } from "../../plain/outcome";
import type { Actor } from "../guards";
import { atLeast } from "../roles";
import type { ChangeSet } from "../state";
import { commandKind, eventKind, type NewOf } from "./family";

/** Labels that somebody gave a change set. Those that it has by what it touches are found out, and stand in no log. */

export const labelEvents = {
  labelled: eventKind(v.object({ put: v.array(v.string()), taken: v.array(v.string()) }), {
    silent: true,
    live: true,
    evolve: (change, { data: { put, taken } }) => ({
      ...change,
      labels: [...new Set([...change.labels.filter((name) => !taken.includes(name)), ...put])].sort(),
    }),
    says: ({ by, data: { put, taken } }, { name }) => {
      const said = put.length > 0 ? [`labelled ${put.join(", ")}`] : [];
      if (taken.length > 0) said.push(`no longer labelled ${taken.join(", ")}`);
      return `${said.join(" and ")} by ${name(by)}`;
    },
  }),
};

type New = NewOf<typeof labelEvents>;

/** Why somebody cannot label a change set; null when they can. */
export function mayLabel({ author }: ChangeSet, actor: Actor): Outcome<never> | null {
  return actor.id === author || atLeast(actor.role, "contributor")
    ? null
    : refuse("forbidden", "Only contributors, keepers and the author can label a change set.");
}

const names = v.pipe(v.array(labelName), v.maxLength(20, "Twenty labels at most at a time."));
const label = v.object({ kind: v.literal("label"), put: v.optional(names, []), take: v.optional(names, []) });

export const labelRequests = [label] as const;

export const labelCommands = {
  /** Whether a repository has such a label is asked where that is known. */
  label: commandKind<v.InferOutput<typeof label>, New>([], (change, { put, take }, { actor }) => {
    const wrong = mayLabel(change, actor);
    if (wrong) return wrong;
    const fresh = [...new Set(put)].filter((name) => !change.labels.includes(name) && !take.includes(name));
    const taken = [...new Set(take)].filter((name) => change.labels.includes(name));
    if (fresh.length + taken.length === 0)
      return refuse("conflict", put.length > 0 ? "It has that label already." : "It does not have that label.");
    return done({ kind: "labelled", data: { put: fresh, taken } });
  }),
};
