/** What travels between the browser and the server about what must be true before a change set merges, and about merging it. */
import * as v from "valibot";
import type { CommitView, TokenView } from "./api";
import type { Finding, Report } from "./checks/report";
import { ROLES, type Role } from "./review/roles";
import type { ChangeState } from "./review/state";
import type { MergeKind } from "./rules/rule";
import type { YardstickFile } from "./yardstick/yardstick";

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
    open: boolean;
  }[];
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

/** An account, as those see it who keep the installation. */
export interface AccountView {
  /** With which they sign in, and by which rules name them. */
  name: string;
  fullName: string;
  email: string;
  administrator: boolean;
  machine: boolean;
  /** The name of the person to whom a machine account belongs. */
  owner: string | null;
  disabledAt: number | null;
  /** When they were here last. */
  seenAt: number | null;
  roles: { repository: string; role: Role }[];
  tokens: TokenView[];
}

const short = v.pipe(v.string(), v.maxLength(300));

/** What can be asked of an account. */
export const accountRequest = v.variant("kind", [
  v.object({ kind: v.picklist(["disable", "enable"]) }),
  v.object({ kind: v.literal("describe"), fullName: short, email: short }),
  v.object({ kind: v.literal("administrator"), on: v.boolean() }),
  v.object({ kind: v.literal("password"), password: v.pipe(v.string(), v.maxLength(1_000)) }),
  v.object({ kind: v.literal("role"), repository: short, role: v.nullable(v.picklist(ROLES)) }),
]);
export type AccountRequest = v.InferOutput<typeof accountRequest>;

export const newAccountRequest = v.object({
  name: short,
  fullName: short,
  email: short,
  /** None for a machine account. */
  password: v.optional(v.pipe(v.string(), v.maxLength(1_000))),
  machine: v.optional(v.boolean(), false),
  owner: v.optional(short),
});

/** What is written down of what people do to the installation, in the words in which it is shown. */
export const AUDITED = {
  "signed-in": "signed in",
  "sign-in-refused": "could not sign in",
  "signed-out": "signed out",
  "session-ended": "ended a session",
  "token-made": "made a token",
  "token-dropped": "took a token away",
  "role-set": "set a role",
  "rules-saved": "saved rules",
  pushed: "pushed",
  "gate-passed": "passed the gate",
  "repository-added": "added a repository",
  "repository-fetched": "fetched into a repository",
  "person-added": "added a person",
  "password-set": "set a password",
  "person-disabled": "disabled a person",
  "person-enabled": "enabled a person",
  "person-changed": "changed a person",
  "administrator-set": "made or unmade an administrator",
  "backup-made": "made a backup",
} as const;
export type Audited = keyof typeof AUDITED;

/** One entry of the audit log. */
export interface AuditEntry {
  id: string;
  at: number;
  /** The name with which they sign in; null for the command line, and where nobody is known. */
  person: string | null;
  what: string;
  about: Record<string, string | number | boolean | null>;
  address: string;
}
