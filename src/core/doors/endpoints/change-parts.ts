import * as v from "valibot";
import { ROLES } from "../../review/roles";
import { ruleSchema } from "../../rules/rule";
import * as shape from "./shapes";

/** A change set travels in parts, told apart by what changes them; only the first is large, and it is sent only to who has not got it. */

/** What its log has made of it. */
export const changePart = v.object({
  /** The id of the last event: as long as that is the same, so is all of this. */
  last: v.string(),
  ...{ id: v.string(), repository: v.string(), number: v.number(), title: v.string(), description: v.string() },
  ...{ source: v.string(), target: v.string(), state: shape.state, author: v.string() },
  ...{ openedAt: v.number(), changedAt: v.number(), settled: shape.settled },
  revisions: v.array(shape.revision),
  threads: v.array(shape.thread),
  reviews: v.array(shape.review),
  tasks: v.array(shape.task),
  asked: shape.asked,
  again: shape.again,
  lifts: v.array(shape.lift),
  checks: v.array(shape.check),
  links: v.array(shape.link),
  labels: v.array(v.string()),
  /** Entries that came from elsewhere and cannot have happened by then: what they were, by whom, and why they do not count. */
  leftOut: v.array(v.object({ id: v.string(), by: v.string(), kind: v.string(), why: v.string() })),
  /** How often title and description were said otherwise before: what they said is asked for by itself. */
  wordings: v.number(),
  describedBy: v.string(),
  mergeAsked: shape.mergeAsked,
  mergeFailed: shape.mergeFailed,
  /** Ids of those who can be asked to look again. */
  lookAgain: v.array(v.string()),
});
export type ChangePart = v.InferOutput<typeof changePart>;

const actions = [
  ...([
    "verdict",
    "remark",
    "merge",
    "retarget",
    "describe",
    "revise",
    "withdraw",
    "take",
    "ask",
    "ready",
    "draft",
  ] as const),
  ...(["openAgain", "pass", "link", "label", "lift"] as const),
] as const;

/** What concerns who asks alone: what they may do, and what they have not sent. */
export const minePart = v.object({
  me: v.object({
    id: v.string(),
    role: v.picklist(ROLES),
    ...(Object.fromEntries(actions.map((name) => [name, shape.may])) as Record<
      (typeof actions)[number],
      typeof shape.may
    >),
  }),
  unsent: v.array(shape.unsent),
  /** Ids of suggestions that they have picked to be taken. */
  picked: v.array(v.string()),
  /** The message the commit of these would get. */
  pickMessage: v.string(),
});
export type MinePart = v.InferOutput<typeof minePart>;

/** What must be true before it merges. */
export const gatePart = v.object({
  gate: shape.gate,
  rule: ruleSchema,
  /** Ids of those who can be asked to review, or be given a task. */
  reviewers: v.array(v.string()),
});
export type GatePart = v.InferOutput<typeof gatePart>;

/** How it stands to what is around it: to git, to other change sets, to work items, to people. */
export const aroundPart = v.object({
  people: v.record(v.string(), shape.person),
  chain: shape.chain,
  workItems: v.array(shape.workLink),
  /** All labels of the repository, and the names of those that it has by what it touches. */
  allLabels: v.array(shape.label),
  pathLabels: v.array(v.string()),
  /** It is settled, and its source branch is still there, as its newest revision left it. */
  branchLeft: v.boolean(),
  /** The source branch now points at another commit than the newest revision; null when it does not, or is gone. */
  ahead: v.nullable(v.object({ head: v.string(), commits: v.number() })),
  /** What became of the lines of threads that were written on earlier revisions, by thread; without those that nothing happened to. */
  histories: v.record(v.string(), shape.history),
  /** Ids of comments of a clone that nobody else was given yet; null on a server. */
  keptHere: v.nullable(v.array(v.string())),
  /** They are still being followed, and `courses` are not there yet. */
  following: v.boolean(),
});
export type AroundPart = v.InferOutput<typeof aroundPart>;

/** `change` is null where who asked has it already. */
export const changeAnswer = v.object({
  change: v.nullable(changePart),
  mine: minePart,
  gate: gatePart,
  around: aroundPart,
});
export type ChangeAnswer = v.InferOutput<typeof changeAnswer>;
