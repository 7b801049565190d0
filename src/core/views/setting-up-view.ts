/** What travels between the browser and the server while an installation is set up and looked after: its beginning, repositories, invitations. */
import * as v from "valibot";
import { ROLES, type Role } from "../review/roles";

const short = v.pipe(v.string(), v.maxLength(300));
const password = v.pipe(v.string(), v.maxLength(1_000));
const word = v.pipe(v.string(), v.trim(), v.maxLength(200));

/** An account of one's own: the first of an installation, or by an invitation. `word` is what was given to who may make it. */
export const ownAccountRequest = v.object({ word, name: short, fullName: short, email: short, password });
export type OwnAccountRequest = v.InferOutput<typeof ownAccountRequest>;

/** Where a repository is to be taken in from. A bundle is sent as the body of a request of its own. */
export const takingRequest = v.object({
  name: short,
  from: v.variant("kind", [
    v.object({
      kind: v.literal("folder"),
      path: v.pipe(v.string(), v.minLength(1, "Say where it is."), v.maxLength(4_000)),
    }),
    v.object({
      kind: v.literal("address"),
      url: v.pipe(v.string(), v.trim(), v.maxLength(2_000)),
      account: v.optional(short, ""),
      secret: v.optional(password, ""),
      /** In minutes; 0: not by itself. */
      every: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100_000)), 0),
    }),
    v.object({ kind: v.literal("nothing"), branch: v.optional(short, "main") }),
  ]),
});
export type TakingRequest = v.InferOutput<typeof takingRequest>;

/** A repository that is being taken in, or was: what git said last of how far it is; once it has ended, how. */
export interface TakingView {
  id: string;
  name: string;
  says: string;
  state: "going" | "taken" | "refused";
}

/** A repository, as those see it who keep the installation. */
export interface KeptRepository {
  name: string;
  description: string;
  defaultBranch: string;
  branches: string[];
  openToAll: boolean;
  /** Its reviews are written into it. */
  ledger: boolean;
  archivedAt: number | null;
  /** Deleted ones can be brought back for a while. */
  deletedAt: number | null;
  /** Change sets that are not settled. */
  open: number;
  people: { name: string; fullName: string; role: Role }[];
  origin: { place: string; account: string; every: number; fetchedAt: number | null; problem: string } | null;
}

/** What can be asked of a repository. */
export const repositoryRequest = v.variant("kind", [
  v.object({
    kind: v.literal("describe"),
    description: v.pipe(v.string(), v.trim(), v.maxLength(200, "A description has 200 characters at most.")),
    defaultBranch: short,
    openToAll: v.boolean(),
    ledger: v.optional(v.boolean(), true),
  }),
  v.object({ kind: v.picklist(["archive", "open-again", "fetch", "restore"]) }),
  /** The name once more, so that nobody deletes another one than they mean. */
  v.object({ kind: v.literal("delete"), name: short }),
  v.object({
    kind: v.literal("origin"),
    account: short,
    /** Null: the one that is kept. */
    secret: v.nullable(password),
    every: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100_000)),
  }),
]);
export type RepositoryRequest = v.InferOutput<typeof repositoryRequest>;

/** So long a deleted repository can be brought back, in days. */
export const DELETED_DAYS = 14;

export const inviteRequest = v.object({
  label: v.pipe(v.string(), v.trim(), v.minLength(1, "Say for whom it is."), v.maxLength(100)),
  roles: v.pipe(v.record(short, v.picklist(ROLES)), v.maxEntries(1_000)),
  days: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(90)), 7),
});
export type InviteRequest = v.InferOutput<typeof inviteRequest>;

/** An invitation that nobody has come by yet, without its word. */
export interface InviteView {
  id: string;
  label: string;
  roles: { repository: string; role: Role }[];
  madeBy: string;
  madeAt: number;
  expiresAt: number;
}

/** A backup that lies in the data folder. */
export interface BackupView {
  /** The name of its folder. */
  name: string;
  /** In milliseconds since 1970. */
  madeAt: number;
  repositories: number;
  /** In bytes. */
  size: number;
}

/** The backups that are there, and the one that is being made: what it is at, in words; null for none. */
export interface BackupsView {
  folder: string;
  making: string | null;
  /** Why the last one was not made; empty where it was. */
  problem: string;
  backups: BackupView[];
}

/** A group of people, and the roles that its members have by it. */
export interface GroupView {
  name: string;
  /** Names of people. */
  members: string[];
  roles: { repository: string; role: Role }[];
}

export const groupRequest = v.object({
  name: v.pipe(
    v.string(),
    v.trim(),
    v.regex(
      /^[a-z0-9][a-z0-9-]{0,39}$/,
      "The name of a group is made of small letters, digits and dashes, 40 at most.",
    ),
  ),
  members: v.pipe(v.array(short), v.maxLength(1_000)),
  roles: v.pipe(v.record(short, v.picklist(ROLES)), v.maxEntries(1_000)),
});
export type GroupRequest = v.InferOutput<typeof groupRequest>;
