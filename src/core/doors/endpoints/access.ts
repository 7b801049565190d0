import * as v from "valibot";
import { HUES } from "../../house/labels/hues";
import { ROLES } from "../../review/roles";
import {
  AUDITED,
  accountRequest,
  type CloneKeyView,
  cloneKeyRequest,
  codeRequest,
  demoSignInRequest,
  newAccountRequest,
  passwordRequest,
  SCOPES,
  type SecondStepBegun,
  type SecondStepView,
  type SignedIn,
  signInRequest,
  tokenRequest,
} from "../../views/access-view";
import type { Portrait } from "../../views/api";
import type { Endpoints } from "./endpoint";
import type { Shape } from "./shapes";

const time = v.nullable(v.number());
const token = v.object({
  ...{ id: v.string(), label: v.string(), createdAt: v.number(), usedAt: time, expiresAt: time },
  scopes: v.array(v.picklist(SCOPES)),
});
const cloneKey = v.object({
  ...{ key: v.string(), label: v.string(), addedAt: v.number(), usedAt: time, revokedAt: time },
}) satisfies Shape<CloneKeyView>;
const account = v.object({
  ...{ name: v.string(), fullName: v.string(), email: v.string(), administrator: v.boolean(), machine: v.boolean() },
  ...{ owner: v.nullable(v.string()), disabledAt: time, seenAt: time, secondStep: v.boolean() },
  roles: v.array(v.object({ repository: v.string(), role: v.picklist(ROLES) })),
  groups: v.array(v.string()),
  tokens: v.array(token),
});
const portrait = v.object({ hue: v.number(), picture: v.nullable(v.string()) }) satisfies Shape<Portrait>;
const about = v.record(v.string(), v.nullable(v.union([v.string(), v.number(), v.boolean()])));
const entry = v.object({
  ...{ id: v.string(), at: v.number(), person: v.nullable(v.string()), what: v.string(), about, address: v.string() },
});

/** Who comes in: signing in, sessions, tokens, accounts, and who did what. */
export const accessEndpoints = {
  "POST /api/sign-in": {
    who: "everyone",
    does: "Signs in with a name and a password, and answers with who that is; the session is in a cookie. Where a second step is asked for and no code is given, nobody is signed in, and `id` is null.",
    body: signInRequest,
    answer: v.object({ id: v.nullable(v.string()) }) satisfies Shape<SignedIn>,
    refuses: ["too-many"],
  },
  "GET /api/sign-in/provider": {
    who: "everyone",
    does: "Leads to the provider through which people sign in, where one is set up.",
    query: v.object({ next: v.optional(v.pipe(v.string(), v.maxLength(2_000)), "/") }),
    answer: null,
    status: 303,
    refuses: ["missing", "unavailable"],
  },
  "GET /api/sign-in/provider/back": {
    who: "everyone",
    does: "Where the provider sends people back to: signs them in and leads on, or leads to the page for signing in with the reason.",
    answer: null,
    status: 303,
  },
  "GET /api/second-step": {
    who: "in-browser",
    does: "Whether a second step is asked of who asks when they sign in.",
    answer: v.object({ onSince: time, wordsLeft: v.number() }) satisfies Shape<SecondStepView>,
  },
  "POST /api/second-step": {
    who: "in-browser",
    does: "Makes the secret of a second step, for a device. It counts for nothing until it was confirmed.",
    answer: v.object({ secret: v.string(), address: v.string(), picture: v.string() }) satisfies Shape<SecondStepBegun>,
    refuses: ["conflict"],
  },
  "PUT /api/second-step": {
    who: "in-browser",
    does: "Switches the second step on, by a number of the device. Its answer is the only time that the words for the loss of it are told.",
    body: codeRequest,
    answer: v.object({ words: v.array(v.string()) }),
    refuses: ["conflict", "too-many"],
  },
  "POST /api/second-step/end": {
    who: "in-browser",
    does: "Switches the second step off, by a number of the device or one of the words.",
    body: codeRequest,
    answer: null,
    refuses: ["conflict", "too-many"],
  },
  "POST /api/sign-in/demo": {
    who: "everyone",
    does: "Signs in as one of the people of the demo, where that runs.",
    body: demoSignInRequest,
    answer: null,
    refuses: ["missing"],
  },
  "POST /api/sign-out": { who: "signed-in", does: "Ends the session that asks.", answer: null },
  "POST /api/password": {
    who: "in-browser",
    does: "Sets a new password of one’s own, and ends all other sessions.",
    body: passwordRequest,
    answer: null,
    refuses: ["too-many"],
  },
  "DELETE /api/sessions/{id}": {
    who: "in-browser",
    does: "Ends one of one’s own sessions; `others` stands for all but the one that asks.",
    answer: null,
  },
  "POST /api/tokens": {
    who: "in-browser",
    does: "Makes a token. Its answer is the only time that it is told.",
    body: tokenRequest,
    answer: v.object({ token: v.string(), tokens: v.array(token) }),
  },
  "GET /api/clone-keys": {
    who: "signed-in",
    does: "One’s clones: what their keys sign is taken in as one’s own, where it is pushed into a ledger.",
    answer: v.array(cloneKey),
  },
  "POST /api/clone-keys": {
    who: "in-browser",
    does: "Says that a clone is one’s own, by the line that lens key prints there.",
    body: cloneKeyRequest,
    answer: v.array(cloneKey),
    refuses: ["invalid", "conflict", "forbidden"],
  },
  "DELETE /api/clone-keys/{key}": {
    who: "in-browser",
    does: "Revokes the key of a clone: nothing new that it signs is taken in.",
    answer: v.array(cloneKey),
    refuses: ["missing"],
  },
  "DELETE /api/tokens/{id}": {
    who: "in-browser",
    does: "Takes a token away; administrators may do that to anyone’s.",
    answer: null,
  },
  "GET /api/keeping/audit": {
    who: "administrators",
    does: `Who did what, the newest first: ${Object.keys(AUDITED).length} kinds of entries. \`before\` goes on from an entry.`,
    query: v.object({ before: v.optional(v.pipe(v.string(), v.maxLength(40))) }),
    answer: v.array(entry),
  },
  "POST /api/keeping/people": {
    who: "administrators",
    does: "Adds a person or a machine account; answers with everyone.",
    body: newAccountRequest,
    answer: v.array(account),
    refuses: ["conflict"],
  },
  "POST /api/keeping/people/{name}": {
    who: "administrators",
    does: "Carries out what is asked of an account; answers with everyone.",
    body: accountRequest,
    answer: v.array(account),
    refuses: ["conflict"],
  },
  "POST /api/keeping/people/{name}/tokens": {
    who: "administrators",
    does: "Makes a token for a machine account. Its answer is the only time that it is told.",
    body: tokenRequest,
    answer: v.object({ token: v.string(), people: v.array(account) }),
    status: 201,
    refuses: ["conflict"],
  },
  "PUT /api/portrait": {
    who: "signed-in",
    does: "Chooses the colour of one’s initials.",
    body: v.object({ hue: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(HUES.length - 1)) }),
    answer: portrait,
  },
  "POST /api/portrait/picture": {
    who: "signed-in",
    does: "Puts a picture of oneself in the place of one’s initials.",
    body: { type: "image/*", holds: "A PNG, JPEG, GIF or WebP, up to 512 kB." },
    answer: portrait,
    refuses: ["invalid"],
  },
  "DELETE /api/portrait/picture": {
    who: "signed-in",
    does: "Takes the picture of oneself away.",
    answer: portrait,
  },
  "GET /api/people/{name}/picture": {
    who: "signed-in",
    does: "The picture of somebody, for who shares a repository with them.",
    answer: { type: "image/*", holds: "The picture." },
  },
} satisfies Endpoints;
