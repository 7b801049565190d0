import * as v from "valibot";
import { exactness, matcher, wrongPattern } from "../pattern/pattern";

/** The ways in which a change set can become part of its target. */
export const MERGE_KINDS = ["merge", "squash", "rebase", "forward"] as const;
export type MergeKind = (typeof MERGE_KINDS)[number];

/** Whether merging so writes a commit with a message of its own. */
export function writesMessage(how: MergeKind): boolean {
  return how === "merge" || how === "squash";
}

const name = v.pipe(v.string(), v.minLength(1), v.maxLength(100));
const names = v.pipe(v.array(name), v.maxLength(200));
const pattern = v.pipe(
  v.string(),
  v.check(
    (text) => wrongPattern(text) === null,
    (issue) => wrongPattern(issue.input as string) ?? "",
  ),
);
const words = v.pipe(v.string(), v.minLength(1), v.maxLength(300));
const moment = v.pipe(v.string(), v.isoTimestamp("A time is written like 2026-12-24T18:00:00Z."));

export const ruleSchema = v.strictObject({
  /** Names of branches, or a pattern of them. The most exact rule that fits a branch is the one that counts. */
  branches: pattern,
  approvals: v.optional(
    v.strictObject({
      count: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(50)), 1),
      /** Percent of those who were asked by name; the larger of the two counts. */
      share: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(100))), null),
      /** The author's own approval counts. */
      author: v.optional(v.boolean(), false),
      /** The approval of who pushed the newest revision counts. */
      lastPusher: v.optional(v.boolean(), false),
      /** The approvals of those count who made some of it: wrote or committed a commit, pushed a revision, or suggested what was taken. */
      makers: v.optional(v.boolean(), true),
      /** Approvals of earlier work still count. A rebase alone outdates none in either case. */
      keep: v.optional(v.boolean(), false),
      /** Whose approvals count: people, groups as @name, or the roles contributor and keeper. Null: everyone who may approve. */
      from: v.optional(v.nullable(names), null),
    }),
    {},
  ),
  /** Who must agree to changes under some paths. */
  stewards: v.optional(
    v.pipe(
      v.array(
        v.strictObject({
          paths: pattern,
          of: v.pipe(names, v.minLength(1, "A steward has to be named.")),
          needed: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(50)), 1),
        }),
      ),
      v.maxLength(200),
    ),
    [],
  ),
  /** Pushes may also go straight there: for a rule that says what is asked of offers to any branch. */
  direct: v.optional(v.boolean(), false),
  /** No request for changes may stand. */
  requests: v.optional(v.boolean(), true),
  /** Threads that have to be settled are settled. */
  threads: v.optional(v.boolean(), true),
  tasks: v.optional(v.boolean(), true),
  /** Names of checks that must have passed on the newest revision. */
  checks: v.optional(v.pipe(names, v.maxLength(50)), []),
  /** Machine accounts whose word on these checks is believed. Null: any that belongs to a keeper who has no part in the change set. */
  checksFrom: v.optional(v.nullable(names), null),
  workItem: v.optional(v.boolean(), false),
  /** In these `*` stands for anything and `?` for one character. */
  title: v.optional(v.nullable(words), null),
  commits: v.optional(v.nullable(words), null),
  signedOff: v.optional(v.boolean(), false),
  /** No merge commits, neither offered nor made. */
  linear: v.optional(v.boolean(), false),
  upToDate: v.optional(v.boolean(), false),
  /** So many lines to read at most. */
  mostToRead: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1))), null),
  freezes: v.optional(
    v.pipe(v.array(v.strictObject({ from: moment, until: moment, why: words })), v.maxLength(50)),
    [],
  ),
  merging: v.optional(v.pipe(v.array(v.picklist(MERGE_KINDS)), v.minLength(1, "One way of merging is needed.")), [
    "merge",
  ]),
  deleteSource: v.optional(v.boolean(), false),
  /** Keepers may merge although the gate is not met, with a reason that stays on the record. */
  passing: v.optional(v.boolean(), false),
});

/** What a target branch asks of a change set before it merges. */
export type Rule = v.InferOutput<typeof ruleSchema>;

/** Who may do something with tags. */
export const TAG_RIGHTS = ["contributor", "keeper", "nobody"] as const;
const tagRight = v.picklist(TAG_RIGHTS);

/** All rules of a repository, as they are kept, exported and imported: see docs/rules.schema.json. */
export const rulesSchema = v.strictObject({
  version: v.optional(v.literal(1), 1),
  /** People by their names, to be named together as @group. */
  groups: v.optional(
    v.record(v.pipe(v.string(), v.regex(/^[\w-]+$/, "A group is named by letters, digits and dashes.")), names),
    {},
  ),
  rules: v.pipe(v.array(ruleSchema), v.maxLength(100)),
  tags: v.optional(
    v.strictObject({
      create: v.optional(tagRight, "contributor"),
      move: v.optional(tagRight, "keeper"),
      delete: v.optional(tagRight, "keeper"),
    }),
    {},
  ),
  /** What one keeper changes of these rules counts when a second one has agreed. */
  seconded: v.optional(v.boolean(), false),
});
export type Rules = v.InferOutput<typeof rulesSchema>;

/**
 * How it stands with an edition of the rules: the newest one that is agreed counts. One that waits needs the word of a second keeper, and one that was dropped
 * never counted.
 */
export const EDITION_STATES = ["agreed", "waits", "dropped"] as const;
export type EditionState = (typeof EDITION_STATES)[number];

/** A rule with nothing said but its branches, and what is said otherwise. */
export function makeRule(branches: string, said: Partial<Rule> = {}): Rule {
  return { ...v.parse(ruleSchema, { branches: "**" }), branches, ...said };
}

/** What a branch asks, when it has no rule and is not the one that everything goes into. */
export const NO_RULE: Rule = {
  ...makeRule(""),
  approvals: { count: 0, share: null, author: false, lastPusher: false, makers: true, keep: false, from: null },
};

/** The rule that counts for a branch: the most exact, the first of several; null when none fits. */
export function ruleOf({ rules }: Rules, branch: string): Rule | null {
  let best: Rule | null = null;
  for (const rule of rules) {
    if (!matcher(rule.branches)(branch)) continue;
    if (!best || exactness(rule.branches) > exactness(best.branches)) best = rule;
  }
  return best;
}

/** The rule that keeps pushes from a branch; null where they may go straight there. */
export function guardOf(rules: Rules, branch: string): Rule | null {
  const rule = ruleOf(rules, branch);
  return rule && !rule.direct ? rule : null;
}

/** Rules in which the groups are the people that they name. */
export function withoutGroups(rule: Rule, groups: Rules["groups"]): Rule {
  const named = (group: string) => (Object.hasOwn(groups, group) ? groups[group] : []);
  const open = (list: readonly string[]) => [
    ...new Set(list.flatMap((one) => (one.startsWith("@") ? named(one.slice(1)) : [one]))),
  ];
  return {
    ...rule,
    approvals: { ...rule.approvals, from: rule.approvals.from && open(rule.approvals.from) },
    checksFrom: rule.checksFrom && open(rule.checksFrom),
    stewards: rule.stewards.map((steward) => ({ ...steward, of: open(steward.of) })),
  };
}
