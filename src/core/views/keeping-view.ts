/** What travels between the browser and the server about what must be true before a change set merges, and about merging it. */
import * as v from "valibot";
import type { Finding, Report } from "../checks/report";
import type { ChangeState } from "../review/state";
import type { MergeKind } from "../rules/rule";
import type { YardstickFile } from "../yardstick/yardstick";
import type { CommitView } from "./api";

const id = v.pipe(v.string(), v.maxLength(64));
const text = v.pipe(v.string(), v.maxLength(1_000_000));

/** A file in which the newest revision and its target cannot be brought together. */
export interface ConflictView {
  path: string;
  /** Why there are no places to show; null where there are. */
  why: string | null;
  /** `line` is that of the target, 1-based. Without line endings. */
  places: { line: number; base: string[]; target: string[]; source: string[] }[];
}

/** What merging in one way would make. */
export interface MergePreview {
  how: MergeKind;
  /** Empty for the ways that write no message of their own. */
  message: string;
  /** Why it cannot be done now; null when it can. */
  why: string | null;
  /** How many commits of the target the newest revision has not. */
  behind: number;
  /** What the target would have more than now, the newest first; `made` are those that merging writes. */
  commits: (CommitView & { made: boolean })[];
  conflicts: ConflictView[];
}

/** A reason for changes, as the tracker tells it. */
export interface WorkItemView {
  item: string;
  title: string;
  body: string;
  state: "open" | "done";
  /** Whose it is; null for nobody’s. */
  person: string | null;
  /** The number of the change set that ended it. */
  closedBy: number | null;
  changedAt: number;
  /** Where people read it, where it is kept elsewhere. */
  address: string | null;
}

export const workItemRequest = v.variant("kind", [
  v.object({
    kind: v.literal("new"),
    title: v.pipe(v.string(), v.maxLength(1_000)),
    body: v.optional(text, ""),
    assignee: v.optional(v.nullable(id), null),
  }),
  v.object({ kind: v.literal("state"), item: id, state: v.picklist(["open", "done"]) }),
]);

/** The rules themselves are checked by their own schema. */
export const rulesRequest = v.object({
  rules: v.unknown(),
  note: v.optional(v.pipe(v.string(), v.maxLength(500)), ""),
  version: v.optional(v.nullable(v.number()), null),
});

/** What rules would mean for the change sets that are there. */
export interface RuleTrial {
  errors: string[];
  notes: string[];
  tried: {
    number: number;
    title: string;
    state: ChangeState;
    target: string;
    /** The branches of the rule that counts; null where none does. */
    rule: string | null;
    /** What would be missing, in sentences. */
    blocked: string[];
    /** Those of them that the rules which count now do not say. */
    newly: string[];
    open: boolean;
  }[];
}

/** How far a check is, and what it wrote last. */
export interface LogView {
  name: string;
  /** The id of the account that told it. */
  by: string;
  /** From 0 to 1; null where that is not known. */
  part: number | null;
  at: number;
  /** Its last line that says something. */
  last: string;
}

/** What one check found on the newest revision. */
export interface FindingsView {
  check: string;
  revision: number;
  findings: Finding[];
  more: number;
  tests: Report["tests"];
}

/** How a change set stands to a branch or tag that it is held against. */
export interface YardstickView {
  names: { name: string; kind: "branch" | "tag" }[];
  name: string | null;
  files: YardstickFile[];
}
