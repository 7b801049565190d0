/** What travels between the browser and the server: the shapes of answers, and the checks on what is asked. */
import * as v from "valibot";
import type { Anchor } from "../anchor/anchor";
import type { Caution } from "../cautions/caution";
import type { LineHistory } from "../diff/history";
import type { FileChange } from "../diff/tree";
import type { Refusal } from "../plain/outcome";
import type { ClassCounts, ClassRun, Side } from "../quiet/classes";
import type { Fact } from "../quiet/facts";
import type { LockSummary } from "../quiet/kinds/lock/lockfile";
import type { Replacement } from "../quiet/kinds/repeated";
import { WHERE } from "../reading/finding/search";
import { AS } from "../reading/finding/ways";
import {
  id,
  objectId,
  offset,
  ordinal,
  path,
  suggestionRequest,
  text,
  verdict,
  type Weight,
  weight,
} from "../review/shapes";
import type { ChangeSet } from "../review/state";
import type { Suggestion } from "../suggest/suggestion";

export const openRequest = v.object({
  title: text,
  description: text,
  source: v.string(),
  target: v.string(),
  draft: v.optional(v.boolean(), false),
  invited: v.optional(v.pipe(v.array(v.string()), v.maxLength(50)), []),
});
const inFile = { revision: ordinal, blob: objectId, side: v.picklist(["old", "new"]), path };
/** Where a new remark is to stand: the server takes down itself what the lines say. */
const newAnchor = v.variant("kind", [
  v.object({
    kind: v.literal("lines"),
    ...inFile,
    start: ordinal,
    end: ordinal,
    part: v.optional(v.object({ from: offset, to: offset })),
  }),
  v.object({ kind: v.literal("file"), ...inFile }),
  v.object({ kind: v.literal("commit"), revision: ordinal, commit: objectId }),
  v.object({ kind: v.literal("change"), revision: ordinal }),
]);
export const unsentRequest = v.variant("kind", [
  v.object({
    kind: v.literal("remark"),
    anchor: newAnchor,
    body: text,
    weight: v.optional(weight, "settle"),
    suggestions: v.optional(v.array(suggestionRequest), []),
  }),
  v.object({ kind: v.literal("closing"), body: text }),
  v.object({ kind: v.literal("reply"), thread: id, body: text, resolves: v.optional(v.boolean(), false) }),
  v.object({ kind: v.literal("task"), body: text, assignee: v.optional(v.nullable(id), null) }),
]);
export const followRequest = v.object({ follow: v.boolean() });
export const pickRequest = v.object({ thread: id, suggestion: id, picked: v.boolean() });
/** Files that somebody had before them to their ends; or one that is marked read or unread. */
export const readMarkRequest = v.union([
  v.object({ paths: v.pipe(v.array(path), v.maxLength(100)), revision: ordinal, looked: v.literal(true) }),
  v.object({ path, oldId: v.nullable(objectId), newId: v.nullable(objectId), revision: ordinal, read: v.boolean() }),
]);
export type UnsentRequest = v.InferOutput<typeof unsentRequest>;
export type ReadMarkRequest = Extract<v.InferOutput<typeof readMarkRequest>, { read: boolean }>;

/** With which verdict it is asked how the gate would stand. */
export const gatePreviewRequest = v.object({ verdict });

/** How a change set stands to others: it is offered to the source of `on`, and those `under` it are offered to its own. */
export interface ChainView {
  on: ChainLine | null;
  under: ChainLine[];
  /** What that means for merging it, in sentences. */
  notes: string[];
}
export type ChainLine = Pick<ChangeSet, "number" | "title" | "state">;

/** What every refused request is answered with. */
export interface RefusalAnswer {
  refusal: Refusal;
}

/** How somebody is drawn: the colour of their initials, and the address of a picture that takes their place. */
export interface Portrait {
  hue: number;
  picture: string | null;
}

/** Who looks at a page. */
export interface Me {
  name: string;
  fullName: string;
  administrator: boolean;
  portrait: Portrait;
}

export interface PersonView extends Portrait {
  id: string;
  name: string;
  fullName: string;
  machine: boolean;
}

/** What its writer alone can see: a remark, the closing word of their review, or a task. */
export type Unsent = UnsentRemark | UnsentClosing | UnsentTask | UnsentReply;

interface Note {
  id: string;
  body: string;
  changedAt: number;
}

export interface UnsentRemark extends Note {
  kind: "remark";
  anchor: Anchor;
  weight: Weight;
  suggestions: Suggestion[];
}

export interface UnsentClosing extends Note {
  kind: "closing";
}

export interface UnsentTask extends Note {
  kind: "task";
  assignee: string | null;
}

/** A word in a thread that goes out with the review. */
export interface UnsentReply extends Note {
  kind: "reply";
  thread: string;
  resolves: boolean;
}

/** Where a new remark is to stand. */
export type NewAnchor = v.InferOutput<typeof newAnchor>;

/** A file of a commit. */
export interface FileAt {
  path: string;
  id: string;
  mode: number;
}

/** How far someone has come with the newest revision, in lines to read. */
export interface Progress {
  read: number;
  total: number;
}

/** How much of the author's work a revision changed. */
export interface RevisionSize {
  files: number;
  added: number;
  removed: number;
  toRead: number;
}

/** Whether something may be done: yes, or why not. */
export type May = { may: true } | { may: false; why: string };

/** One file of a reading. What only the whole comparison tells is missing until it is done. */
export interface ReadingFile extends FileChange {
  /** Where it was, when it was renamed or copied; else null. */
  oldPath: string | null;
  copy: boolean;
  similarity: number | null;
  /** Its contents are no text. */
  binary: boolean;
  /** Why it is taken for generated; null when it is not. */
  generated: string | null;
  /** Added and removed lines; null until they have been counted. */
  counts: [added: number, removed: number] | null;
  /** Changed lines left to read; null until the whole is compared. */
  toRead: number | null;
  /** Changed lines of each quiet class, where there are any. */
  quiet: Partial<ClassCounts>;
  /** What happened to it beside its lines, each as one line to read; empty until the whole is compared. */
  facts: Fact[];
  /** What the eye does not see in it; empty until the whole is compared. */
  cautions: Caution[];
  /** How a lockfile of a known kind changed; null for any other file. */
  lock: LockSummary | null;
  /** How many lines elsewhere are echoes of lines in it, where there are any: who reads it has read those. */
  echoed?: number;
  /** How many of its changes stand elsewhere as well, each to be read at its place. */
  alike?: number;
  read: "unread" | "read" | "changed";
}

export interface ReadingView {
  from: string;
  to: string;
  /** In reading order once complete, before that by path and without renames. */
  files: ReadingFile[];
  /** The whole has been compared. */
  complete: boolean;
  /** Files in which an earlier revision and what came from the target could not be brought together: compared as they were. */
  conflicts: string[];
  /** How many files hold nothing new to who asks; null where the reading is not theirs alone. */
  leftOut: number | null;
  /** In how many files something was left out that is in the target already, made alike there. */
  merged: number;
}

/** One end of a move, as it is told to a reader: 1-based, both ends included. */
export interface MoveEnd {
  path: string;
  start: number;
  end: number;
  /** The named block it lies in, such as a function; null at the top level of the file. */
  within: string | null;
}

/** The quiet lines of one file. */
export interface FileClasses {
  /** Without those of class `read`. */
  runs: ClassRun[];
  moves: Record<number, { from: MoveEnd; to: MoveEnd; edited: number }>;
  replacements: Record<number, Replacement>;
  /** Where the one stands that is to be read for an echo, on the side that has lines, and how many echoes that has. */
  echoes: Record<number, { old: MoveEnd; next: MoveEnd; times: number; names: { from: string; to: string }[] }>;
  /** Where its own lines are read along: the first echoes of them, and how many there are. */
  echoed: { places: SidedEnd[]; many: number };
  /** Its changes that stand elsewhere as well, in order. */
  alike: AlikeChange[];
}

/** A change that is to be read at several places, as it is told where it stands at one of them. */
export interface AlikeChange {
  /** Which of the places this is, counted from 1, and how many there are. */
  at: number;
  of: number;
  here: SidedEnd;
  /** Those next to it, going round. */
  next: SidedEnd;
  previous: SidedEnd;
  /** The first of all places. */
  places: SidedEnd[];
}

/** Lines on the side that has them: the new one, unless they only went. */
export type SidedEnd = MoveEnd & { side: Side };

export interface CommitView {
  id: string;
  author: string;
  at: number;
  subject: string;
  body: string;
}

/** The commits that touched a file, the oldest first, and which of them touched which lines: `steps` are places in `commits`. */
export interface LineOrigins extends LineHistory {
  commits: CommitView[];
  /** How many of them, the first ones, belong to the history that an earlier revision had before it was rebased or amended. */
  earlier: number;
}

export const searchRequest = v.object({
  words: v.pipe(v.string(), v.minLength(2, "Two characters at least are needed to search."), v.maxLength(200)),
  where: v.picklist(WHERE),
  as: v.optional(v.picklist(AS), "words"),
});

/** One line of the answer that tells how the comparison goes on: files by path, with their counts. */
export type CountsLine = { path: string; counts: [added: number, removed: number] }[];

/** Syntax colours of one state of a file: `lines[i]` is flat: length, class, length, class …; a line that is left out has none. */
export type ColouredLines = number[][];

/** Those of both sides of a file; none of a side that was not asked for, or could not be had. */
export interface ColoursView {
  old: ColouredLines;
  new: ColouredLines;
}

/** Names of the colour classes, by their number in {@link ColoursView}. */
export const COLOUR_CLASSES = [
  "plain",
  "keyword",
  "string",
  "comment",
  "constant",
  "function",
  "parameter",
  "punctuation",
  "link",
] as const;
