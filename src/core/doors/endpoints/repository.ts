import * as v from "valibot";
import { checkRequest } from "../../checks/request";
import { EDITION_STATES, rulesSchema } from "../../rules/rule";
import { rulesRequest, workItemRequest } from "../../views/keeping-view";
import type { Endpoints } from "./endpoint";
import * as shape from "./shapes";

const edition = v.object({
  ...{ version: v.number(), by: v.nullable(v.string()), at: v.number(), note: v.string(), rules: rulesSchema },
  state: v.picklist(EDITION_STATES),
  second: v.nullable(v.object({ by: v.string(), at: v.number() })),
});
const changes = v.object({ changes: v.array(v.number()) });

/** Rules, work items, checks and images of a repository. */
export const repositoryEndpoints = {
  "GET /api/repos/{repo}/rules": {
    who: "signed-in",
    does: "The rules that count now, as a file.",
    answer: rulesSchema,
  },
  "GET /api/repos/{repo}/rules/history": {
    who: "signed-in",
    does: "Every edition of the rules, the newest first.",
    answer: v.array(edition),
  },
  "PUT /api/repos/{repo}/rules": {
    who: "signed-in",
    does: "Saves a new edition of the rules. `version` is the one that was edited, so that nobody’s is lost. Where the rules say so it waits for a second keeper.",
    body: rulesRequest,
    answer: v.object({ ...edition.entries, notes: v.array(v.string()) }),
    refuses: ["conflict"],
  },
  "POST /api/repos/{repo}/rules/history/{version}": {
    who: "in-browser",
    does: "Agrees to an edition of the rules that waits for a second keeper, who is not the one that saved it; or drops it, which every keeper can.",
    body: v.object({ agrees: v.boolean() }),
    answer: edition,
    refuses: ["conflict"],
  },
  "POST /api/repos/{repo}/rules/try": {
    who: "signed-in",
    does: "Tells what rules that are not saved would mean for the change sets that are there.",
    body: rulesRequest,
    answer: shape.ruleTrial,
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/work": {
    who: "signed-in",
    does: "Work items that fit some words; or, with `items`, those of these names, with commas between them.",
    query: v.object({ words: v.optional(v.string(), ""), items: v.optional(v.string()) }),
    answer: v.array(shape.workItem),
  },
  "POST /api/repos/{repo}/work": {
    who: "signed-in",
    does: "Writes a work item, ends one, or opens it again; answers with the name of a new one.",
    body: workItemRequest,
    answer: v.nullable(v.string()),
  },
  "POST /api/repos/{repo}/commits/{commit}/checks": {
    who: "signed-in",
    does: "What a machine says of a check on a commit; answers with the change sets that it concerns.",
    body: checkRequest,
    answer: changes,
    refuses: ["conflict"],
  },
  "PUT /api/repos/{repo}/commits/{commit}/logs/{name}": {
    who: "signed-in",
    does: "The end of what the check of that name has written so far, in the place of what was told before; `part` says how far it is, in percent.",
    query: v.object({
      part: v.optional(
        v.pipe(v.string(), v.regex(/^\d{1,3}$/, "That is no share in percent."), v.transform(Number), v.maxValue(100)),
      ),
    }),
    body: { type: "text/plain", holds: "The log or the end of it, up to 1 MB; the last 20,000 characters are kept." },
    answer: null,
    refuses: ["invalid", "too-many"],
  },
  "POST /api/repos/{repo}/commits/{commit}/reports/{name}": {
    who: "signed-in",
    does: "What the check of that name found on a commit; answers with the change sets that it concerns.",
    query: v.object({
      least: v.optional(v.pipe(v.string(), v.regex(/^\d{1,3}$/), v.transform(Number), v.maxValue(100)), "0"),
    }),
    body: {
      type: "application/xml",
      holds:
        "A report in JUnit XML, SARIF (application/json), LCOV or Cobertura XML, or lines such as FILE:LINE: message (text/plain). Of coverage: with `least`, it failed where fewer of the changed lines were run, in percent.",
    },
    answer: changes,
    refuses: ["invalid", "conflict"],
  },
  "POST /api/repos/{repo}/images": {
    who: "signed-in",
    does: "Keeps an image that someone puts into a remark; answers with its address.",
    body: { type: "image/*", holds: "A PNG, JPEG, GIF or WebP." },
    answer: v.object({ address: v.string() }),
    refuses: ["invalid", "too-many"],
  },
  "GET /api/repos/{repo}/images/{id}": {
    who: "signed-in",
    does: "An image out of a remark, for those who may see its repository.",
    answer: { type: "image/*", holds: "The image." },
  },
} satisfies Endpoints;
