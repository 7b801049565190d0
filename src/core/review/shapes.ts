/** The shapes that commands, events and requests of several families have in common. */
import * as v from "valibot";
import type { Anchor } from "../anchor/anchor";
import type { Suggestion } from "../suggest/suggestion";

export const id = v.pipe(v.string(), v.maxLength(64));
export const text = v.pipe(v.string(), v.maxLength(1_000_000));
export const objectId = v.pipe(v.string(), v.regex(/^(?:[0-9a-f]{40}|[0-9a-f]{64})$/, "That is not an object id."));
/** 1-based: of a revision, or of a line. */
export const ordinal = v.pipe(v.number(), v.integer(), v.minValue(1));
/** 0-based: of a character in its line. */
export const offset = v.pipe(v.number(), v.integer(), v.minValue(0));
export const path = v.pipe(v.string(), v.minLength(1), v.maxLength(4096));

/** The three answers a review can end with. `none` leaves the person's earlier answer standing. */
export const verdict = v.picklist(["approve", "request-changes", "none"]);
export type Verdict = v.InferOutput<typeof verdict>;

/** Whether a remark has to be settled before the change set merges, or is said in passing. */
export const weight = v.picklist(["settle", "aside"]);
export type Weight = v.InferOutput<typeof weight>;

/** What can be said to a comment in one word. */
export const REACTIONS = ["agreed", "thanks", "unsure"] as const;
export const reaction = v.picklist(REACTIONS);
export type Reaction = v.InferOutput<typeof reaction>;

/** One pushed state of a change set. All three are full commit ids. */
export const revisionFacts = v.object({ head: v.string(), target: v.string(), base: v.string() });
export type RevisionFacts = v.InferOutput<typeof revisionFacts>;

/** The two commits between which a revision was read. Its number may be that of another one elsewhere. */
export const commitsRead = v.object({ head: v.string(), base: v.string() });
export type CommitsRead = v.InferOutput<typeof commitsRead>;

/**
 * How a revision came of the one before: commits on top of it, the same on another base, other commits in place of it, an earlier commit
 * again, suggestions taken, or the same commits offered to another branch.
 */
export const revisionKind = v.picklist(["forward", "rebased", "rewritten", "back", "suggestions", "retargeted"]);
export type RevisionKind = v.InferOutput<typeof revisionKind>;

const inFile = { revision: ordinal, blob: v.string(), side: v.picklist(["old", "new"]), path: v.string() };
/** What a thread is about, as it is kept. */
export const anchor = v.variant("kind", [
  v.object({
    kind: v.literal("lines"),
    ...inFile,
    start: v.number(),
    end: v.number(),
    text: v.array(v.string()),
    part: v.optional(v.object({ from: offset, to: offset })),
  }),
  v.object({ kind: v.literal("file"), ...inFile }),
  v.object({ kind: v.literal("commit"), revision: ordinal, commit: v.string() }),
  v.object({ kind: v.literal("change"), revision: ordinal }),
]) satisfies v.GenericSchema<unknown, Anchor>;

export const suggestion = v.object({
  id: v.string(),
  start: v.number(),
  end: v.number(),
  was: v.array(v.string()),
  lines: v.array(v.string()),
}) satisfies v.GenericSchema<unknown, Suggestion>;

/** Other text for lines of the file that a remark stands in; the server takes down itself what they say now. */
export const suggestionRequest = v.object({
  ...{ id, start: ordinal, end: ordinal },
  lines: v.pipe(v.array(text), v.maxLength(1_000)),
});

/** A suggestion that was taken, and the thread it was made in. */
export const taken = v.object({ thread: v.string(), suggestion: v.string() });
export type Taken = v.InferOutput<typeof taken>;

/** A remark as it is sent: it opens a thread of the same id. Entries without a weight were written before there was one. */
export const sentRemark = v.object({
  thread: v.string(),
  comment: v.string(),
  anchor,
  body: v.string(),
  weight: v.optional(weight),
  suggestions: v.optional(v.array(suggestion)),
});
export type SentRemark = v.InferOutput<typeof sentRemark>;

/** Something to do before merging that belongs to no line. `person` is to do it; null stands for whoever does. */
export const sentTask = v.object({ task: v.string(), body: v.string(), person: v.nullable(v.string()) });
export type SentTask = v.InferOutput<typeof sentTask>;

/** A word in a thread that is there already, which may resolve it. */
export const sentReply = v.object({
  ...{ thread: v.string(), comment: v.string(), body: v.string() },
  resolves: v.optional(v.boolean()),
});
export type SentReply = v.InferOutput<typeof sentReply>;

/** Who is asked to review: a person, or anyone of a role. */
export const invited = v.union([v.object({ person: id }), v.object({ role: v.picklist(["contributor", "keeper"]) })]);
export type Invited = v.InferOutput<typeof invited>;

/** Whether both mean the same person, or the same role. */
export function sameInvited(a: Invited, b: Invited): boolean {
  return "person" in a ? "person" in b && a.person === b.person : "role" in b && a.role === b.role;
}

export const CHECK_STATES = ["waiting", "running", "passed", "failed", "skipped"] as const;
export type CheckState = (typeof CHECK_STATES)[number];

/** A check as it was reported. */
export const checked = v.object({
  commit: v.string(),
  name: v.string(),
  state: v.picklist(CHECK_STATES),
  summary: v.string(),
  /** Where more can be read: http or https; empty where there is nothing. */
  link: v.string(),
  /** The id of what the check found in detail; null where it told nothing. */
  report: v.nullable(v.string()),
});
export type Checked = v.InferOutput<typeof checked>;
