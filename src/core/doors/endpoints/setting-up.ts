import * as v from "valibot";
import { ROLES } from "../../review/roles";
import {
  type BackupsView,
  type GroupView,
  groupRequest,
  type InviteView,
  inviteRequest,
  type KeptRepository,
  ownAccountRequest,
  repositoryRequest,
  type TakingView,
  takingRequest,
} from "../../views/setting-up-view";
import type { Endpoints } from "./endpoint";
import type { Shape } from "./shapes";

const text = v.string();
const time = v.nullable(v.number());
const role = v.picklist(ROLES);

const taking = v.object({
  ...{ id: text, name: text, says: text, state: v.picklist(["going", "taken", "refused"]) },
}) satisfies Shape<TakingView>;

const repositories = v.array(
  v.object({
    ...{ name: text, description: text, defaultBranch: text, branches: v.array(text), openToAll: v.boolean() },
    ledger: v.boolean(),
    ...{ archivedAt: time, deletedAt: time, open: v.number() },
    people: v.array(v.object({ name: text, fullName: text, role })),
    origin: v.nullable(v.object({ place: text, account: text, every: v.number(), fetchedAt: time, problem: text })),
  }),
) satisfies Shape<KeptRepository[]>;

const invites = v.array(
  v.object({
    ...{ id: text, label: text, madeBy: text, madeAt: v.number(), expiresAt: v.number() },
    roles: v.array(v.object({ repository: text, role })),
  }),
) satisfies Shape<InviteView[]>;

const backups = v.object({
  ...{ folder: text, making: v.nullable(text), problem: text },
  backups: v.array(v.object({ name: text, madeAt: v.number(), repositories: v.number(), size: v.number() })),
}) satisfies Shape<BackupsView>;

const groups = v.array(
  v.object({ name: text, members: v.array(text), roles: v.array(v.object({ repository: text, role })) }),
) satisfies Shape<GroupView[]>;

/** How an installation begins, and how its repositories and invitations are looked after. */
export const settingUpEndpoints = {
  "POST /api/first-start": {
    who: "everyone",
    does: "Makes the first administrator of an empty installation, for who has the word that the server printed at its start; the session is in a cookie.",
    body: ownAccountRequest,
    answer: v.object({ id: text }),
    refuses: ["conflict"],
  },
  "POST /api/join": {
    who: "everyone",
    does: "Makes an account of one’s own, for who has the word of an invitation; the session is in a cookie.",
    body: ownAccountRequest,
    answer: v.object({ id: text }),
    refuses: ["conflict"],
  },
  "POST /api/here": {
    who: "everyone",
    does: "Lets who started the application on their own clone in, by the word in the address; it counts once. The session is in a cookie.",
    body: v.object({ word: v.pipe(text, v.maxLength(200)) }),
    answer: v.object({ id: text }),
  },
  "POST /api/repos": {
    who: "in-browser",
    does: "Makes an empty repository, to be pushed to, whose keeper is who asks: for keepers of others, where the installation says so, under names that fit its pattern.",
    body: v.object({ name: v.pipe(text, v.maxLength(300)) }),
    answer: v.object({ name: text }),
    refuses: ["conflict"],
  },
  "GET /api/keeping/repositories": {
    who: "administrators",
    does: "Every repository with its people and where it is fetched from; deleted ones too, while they can be brought back.",
    answer: repositories,
  },
  "POST /api/keeping/repositories/{name}": {
    who: "administrators",
    does: "Carries out what is asked of a repository; answers with all of them.",
    body: repositoryRequest,
    answer: repositories,
    refuses: ["conflict"],
  },
  "GET /api/keeping/takings": {
    who: "administrators",
    does: "The repositories that are being taken in, and how the last ones ended.",
    answer: v.array(taking),
  },
  "POST /api/keeping/takings": {
    who: "administrators",
    does: "Begins to take a repository in: from a folder of the server, from an address, or empty.",
    body: takingRequest,
    answer: taking,
    refuses: ["conflict", "too-many"],
  },
  "POST /api/keeping/takings/{name}": {
    who: "administrators",
    does: "Takes a repository in under a name, from a bundle as git makes them, up to 4 GB.",
    body: { type: "application/octet-stream", holds: "The bundle." },
    answer: taking,
    refuses: ["conflict", "too-many"],
  },
  "DELETE /api/keeping/takings/{name}": {
    who: "administrators",
    does: "Cancels a taking in by its id, or forgets one that has ended.",
    answer: null,
  },
  "GET /api/keeping/invites": {
    who: "administrators",
    does: "The invitations that nobody has come by yet.",
    answer: invites,
  },
  "POST /api/keeping/invites": {
    who: "administrators",
    does: "Makes an invitation. Its answer is the only time that its word is told.",
    body: inviteRequest,
    answer: v.object({ word: text, invites }),
    refuses: ["conflict"],
  },
  "DELETE /api/keeping/invites/{id}": {
    who: "administrators",
    does: "Takes an invitation back.",
    answer: null,
  },
  "POST /api/keeping/mail": {
    who: "administrators",
    does: "Sends who asks a test message, and answers once the mail server has taken it.",
    answer: v.object({ to: text }),
    refuses: ["conflict", "unavailable"],
  },
  "GET /api/keeping/backups": {
    who: "administrators",
    does: "The backups that lie in the data folder, and how far the one is that is being made.",
    answer: backups,
  },
  "POST /api/keeping/backups": {
    who: "administrators",
    does: "Begins a backup of everything as it is at this moment.",
    answer: backups,
    refuses: ["conflict"],
  },
  "DELETE /api/keeping/backups/{name}": {
    who: "administrators",
    does: "Takes a backup away.",
    answer: backups,
  },
  "GET /api/keeping/groups": {
    who: "administrators",
    does: "All groups of people, with what they may do by them.",
    answer: groups,
  },
  "PUT /api/keeping/groups": {
    who: "administrators",
    does: "Makes a group, or says anew who is in it and what they may do by it.",
    body: groupRequest,
    answer: groups,
  },
  "DELETE /api/keeping/groups/{name}": {
    who: "administrators",
    does: "Takes a group away; its members keep what they were given themselves.",
    answer: groups,
  },
} satisfies Endpoints;
