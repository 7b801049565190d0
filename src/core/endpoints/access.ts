import * as v from "valibot";
import {
  AUDITED,
  accountRequest,
  demoSignInRequest,
  newAccountRequest,
  passwordRequest,
  SCOPES,
  signInRequest,
  tokenRequest,
} from "../access-view";
import { ROLES } from "../review/roles";
import type { Endpoints } from "./endpoint";

const time = v.nullable(v.number());
const token = v.object({
  ...{ id: v.string(), label: v.string(), createdAt: v.number(), usedAt: time, expiresAt: time },
  scopes: v.array(v.picklist(SCOPES)),
});
const account = v.object({
  ...{ name: v.string(), fullName: v.string(), email: v.string(), administrator: v.boolean(), machine: v.boolean() },
  ...{ owner: v.nullable(v.string()), disabledAt: time, seenAt: time },
  roles: v.array(v.object({ repository: v.string(), role: v.picklist(ROLES) })),
  tokens: v.array(token),
});
const about = v.record(v.string(), v.nullable(v.union([v.string(), v.number(), v.boolean()])));
const entry = v.object({
  ...{ id: v.string(), at: v.number(), person: v.nullable(v.string()), what: v.string(), about, address: v.string() },
});

/** Who comes in: signing in, sessions, tokens, accounts, and who did what. */
export const accessEndpoints = {
  "POST /api/sign-in": {
    who: "everyone",
    does: "Signs in with a name and a password, and answers with who that is; the session is in a cookie.",
    body: signInRequest,
    answer: v.object({ id: v.string() }),
    refuses: ["too-many"],
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
} satisfies Endpoints;
