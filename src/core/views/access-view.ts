/** What travels between the browser and the server about who comes in: signing in, sessions, tokens, accounts, and who did what. */
import * as v from "valibot";
import { ROLES, type Role } from "../review/roles";

export const signInRequest = v.object({
  name: v.pipe(v.string(), v.maxLength(200)),
  password: v.pipe(v.string(), v.maxLength(1000)),
  /** Of the second step, where one is asked for. */
  code: v.optional(v.pipe(v.string(), v.maxLength(100))),
});

/** Who has signed in; null where the password was right, and a second step is asked for. */
export interface SignedIn {
  id: string | null;
}

/** Whether a second step is asked for at signing in, and how many words for the loss of the device are left. */
export interface SecondStepView {
  onSince: number | null;
  wordsLeft: number;
}

/** What a device has to know: the secret in base 32, and the same as an address and as a picture of it (SVG). */
export interface SecondStepBegun {
  secret: string;
  address: string;
  picture: string;
}

export const codeRequest = v.object({ code: v.pipe(v.string(), v.maxLength(100)) });

export const demoSignInRequest = v.object({ name: v.pipe(v.string(), v.maxLength(200)) });

/** A personal token, without the token itself. */
export interface TokenView {
  id: string;
  label: string;
  createdAt: number;
  usedAt: number | null;
  /** Null: never. */
  expiresAt: number | null;
  scopes: Scope[];
}

/** What a token may do: look by the API, change by the API, and fetch and push by git. Never more than its owner. */
export const SCOPES = ["read", "write", "git", "feed"] as const;

export type Scope = (typeof SCOPES)[number];

export const tokenRequest = v.object({
  label: v.pipe(v.string(), v.trim(), v.minLength(1, "Say what the token is for."), v.maxLength(100)),
  scopes: v.optional(v.pipe(v.array(v.picklist(SCOPES)), v.minLength(1, "Say what the token may do."))),
  /** Null: it never ends. */
  days: v.optional(v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(3_650)))),
});

export type TokenRequest = v.InferOutput<typeof tokenRequest>;

/** A new password of one's own. */
export const passwordRequest = v.object({
  old: v.pipe(v.string(), v.maxLength(1000)),
  password: v.pipe(v.string(), v.maxLength(1000)),
});

export type PasswordRequest = v.InferOutput<typeof passwordRequest>;

/** Where someone is signed in. */
export interface SessionView {
  id: string;
  createdAt: number;
  usedAt: number;
  /** A network address, and what the browser calls itself. */
  address: string;
  agent: string;
  /** It is the one that asks. */
  here: boolean;
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
  /** A second step is asked for when they sign in. */
  secondStep: boolean;
  /** When they were here last. */
  seenAt: number | null;
  /** Those that they have themselves; what their groups give comes on top. */
  roles: { repository: string; role: Role }[];
  groups: string[];
  tokens: TokenView[];
}

const short = v.pipe(v.string(), v.maxLength(300));

/** What can be asked of an account. */
export const accountRequest = v.variant("kind", [
  v.object({ kind: v.picklist(["disable", "enable", "drop-second-step"]) }),
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
/** A clone from which a person reviews; times in milliseconds since 1970. */
export interface CloneKeyView {
  key: string;
  label: string;
  addedAt: number;
  /** When something that it signed was last taken in. */
  usedAt: number | null;
  revokedAt: number | null;
}

export const cloneKeyRequest = v.object({
  line: v.pipe(v.string(), v.maxLength(1_000)),
  label: v.pipe(v.string(), v.maxLength(100)),
});

export const AUDITED = {
  "signed-in": "signed in",
  "sign-in-refused": "could not sign in",
  "signed-out": "signed out",
  "session-ended": "ended a session",
  "token-made": "made a token",
  "token-dropped": "took a token away",
  "clone-key-added": "said that a clone is theirs",
  "clone-key-revoked": "revoked the key of a clone",
  "role-set": "set a role",
  "rules-saved": "saved rules",
  "rules-agreed": "agreed to rules of another keeper",
  "rules-dropped": "dropped rules that waited",
  pushed: "pushed",
  "gate-passed": "passed the gate",
  "repository-added": "added a repository",
  "repository-fetched": "fetched into a repository",
  "repository-changed": "changed a repository",
  "repository-deleted": "deleted a repository",
  "repository-restored": "brought a repository back",
  "installation-begun": "began the installation",
  "invite-made": "invited someone",
  "invite-dropped": "took an invitation back",
  "invite-taken": "came by an invitation",
  "mail-tried": "sent a test message",
  "label-kept": "said what a label is",
  "label-dropped": "took a label away",
  "second-step-on": "switched a second step on",
  "second-step-off": "switched a second step off",
  "hook-made": "added a webhook",
  "neighbour-set": "asks another server for reviews",
  "neighbour-dropped": "asks another server no more",
  "people-joined": "said who somebody of another server is here",
  "hook-dropped": "took a webhook away",
  "person-added": "added a person",
  "password-set": "set a password",
  "person-disabled": "disabled a person",
  "person-enabled": "enabled a person",
  "person-changed": "changed a person",
  "administrator-set": "made or unmade an administrator",
  "group-kept": "said who is in a group, and what they may do",
  "group-dropped": "took a group away",
  "backup-made": "made a backup",
  "backup-dropped": "took a backup away",
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
