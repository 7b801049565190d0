import type { Role } from "@/core/review/roles";

/** Who may come in, and what they may do. */

export interface PeopleTable {
  id: string;
  /** What a person signs in with. */
  name: string;
  full_name: string;
  email: string;
  /** argon2id, in its usual text form. */
  password: string;
  administrator: number;
  /** May be signed in as by one click on the demo's sign-in page. */
  demo: number;
  /** What they are in the demo, in a word or two. */
  about: string;
  /** A program's account. */
  machine: number;
  created_at: number;
  /** Whose a machine account is; null for people, and for machines of those who keep the installation. */
  owner: string | null;
  /** Since when they cannot sign in nor do anything; null while they can. */
  disabled_at: number | null;
}

export interface SessionsTable {
  /** By which it is listed and ended. */
  id: string;
  /** SHA-256 of the cookie's value: who reads this table cannot sign in with it. */
  token_hash: string;
  person: string;
  created_at: number;
  expires_at: number;
  used_at: number | null;
  /** From where it was begun: a network address, and what the browser calls itself. */
  address: string;
  agent: string;
}

/** What somebody shows beside their password. */
export interface SecondStepsTable {
  person: string;
  /** In base 32. */
  secret: string;
  /** Null until it was confirmed. */
  on_since: number | null;
  /** The half minute, since 1970, of the last number that was taken. */
  last_step: number;
  /** A JSON list of hashes. */
  words: string;
}

/** By which name another provider knows somebody. */
export interface IdentitiesTable {
  issuer: string;
  subject: string;
  person: string;
}

/** What somebody may do in a repository: of `own_roles` what they were given themselves, of `roles` (a view) the most of that and of their groups’. */
export interface RolesTable {
  person: string;
  repository: string;
  role: Role;
}

/** A link by which somebody makes an account of their own. */
export interface InvitesTable {
  id: string;
  /** SHA-256 of its word. */
  word_hash: string;
  /** For whom it is, in the words of who made it. */
  label: string;
  /** The roles that come with it, as JSON: `{"REPOSITORY ID": "reader"}`. */
  roles: string;
  made_by: string;
  made_at: number;
  expires_at: number;
  /** Who came by it. */
  used_by: string | null;
}

/** Personal tokens, for programs and for git. */
export interface TokensTable {
  id: string;
  /** SHA-256 of the token. */
  token_hash: string;
  person: string;
  label: string;
  created_at: number;
  used_at: number | null;
  /** Of read, write and git, parted by blanks. */
  scopes: string;
  /** Null: never. */
  expires_at: number | null;
}

/** What this installation signs with, by what it is for; made when it is needed first. */
export interface SecretsTable {
  name: string;
  value: string;
}

/** Who did what to the installation. `about` is JSON: what it was done to. */
export interface AuditTable {
  id: string;
  at: number;
  /** Null for the command line, and where nobody is known. */
  person: string | null;
  what: string;
  about: string;
  /** From where: a network address, or "command line". */
  address: string;
}

/** How somebody is drawn. `bytes` is a picture of `type`; both are null where there is none. */
export interface PortraitsTable {
  person: string;
  hue: number | null;
  type: string | null;
  bytes: Buffer | null;
  at: number;
}

export interface GroupsTable {
  name: string;
  made_at: number;
}

export interface GroupMembersTable {
  group: string;
  person: string;
}

export interface GroupRolesTable {
  group: string;
  repository: string;
  role: Role;
}

/** What a person's clone signs with. */
export interface CloneKeysTable {
  /** Its id: the first 32 hexadecimal digits of the SHA-256 of its public part. */
  key: string;
  /** DER (SPKI), in base64. */
  public: string;
  person: string;
  /** What its owner calls the clone. */
  label: string;
  added_at: number;
  /** When something that it signed was last taken in. */
  used_at: number | null;
  /** Since when nothing new that it signs is taken in. */
  revoked_at: number | null;
  /** When that was said in the ledgers; null while it has to be. */
  told_at: number | null;
}
