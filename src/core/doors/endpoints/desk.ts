import * as v from "valibot";
import { FLAGS } from "../../house/labels/labels";
import type { FoundThing, KeptList, ListView, NoticesView } from "../../views/desk-view";
import { wishes } from "../news/wishes";
import type { Endpoints } from "./endpoint";
import * as shape from "./shapes";

const text = v.string();
const number = v.number();

const listView = v.object({
  lines: v.array(
    v.object({
      ...{ repository: text, number, title: text, state: shape.state, author: text, authorId: text },
      ...{ source: text, target: text, revision: number, changedAt: number, openThreads: number },
      ...{ load: v.nullable(number), fresh: v.nullable(number), keptHere: v.nullable(number) },
      checks: v.picklist(["passed", "failed", "running", "none"]),
      labels: v.array(v.object({ name: text, flag: v.picklist(FLAGS), byPath: v.boolean() })),
      ...{ gate: v.nullable(shape.gate), reasons: v.array(text), waits: v.picklist(["me", "them", "could", "none"]) },
    }),
  ),
  ...{ count: number, next: v.nullable(text), counting: v.boolean() },
}) satisfies shape.Shape<ListView>;

const keptLists = v.array(
  v.object({ id: text, name: text, query: text, count: v.nullable(number), shared: v.nullable(text) }),
) satisfies shape.Shape<KeptList[]>;

const found = v.array(
  v.object({
    kind: v.picklist(["change", "thread", "file", "person", "work", "repository", "commit"]),
    ...{ title: text, where: text, address: text },
  }),
) satisfies shape.Shape<FoundThing[]>;

const notices = v.object({
  groups: v.array(
    v.object({
      ...{ repository: text, number, title: text, state: shape.state },
      notices: v.array(v.object({ event: text, at: number, by: text, says: text, why: text, unread: v.boolean() })),
    }),
  ),
  more: v.boolean(),
}) satisfies shape.Shape<NoticesView>;

const listRequest = v.object({
  name: v.pipe(
    text,
    v.trim(),
    v.minLength(1, "Give the list a name."),
    v.maxLength(60, "A name has 60 characters at most."),
  ),
  query: text,
  /** The repository that it is shared with, by one of its keepers. */
  shared: v.optional(v.nullable(text), null),
});

/** What waits for somebody, and the lists that they keep, over all repositories. */
export const deskEndpoints = {
  "GET /api/desk/events": {
    who: "signed-in",
    does: "That something happened to a change set that who listens may see, from now on: time to look at the desk again.",
    answer: { type: "text/event-stream", holds: "An empty object each time." },
    refuses: ["too-many"],
  },
  "GET /api/changes": {
    who: "signed-in",
    does: "The change sets that a query asks for, such as `by:me state:open still:>7d`, of those that who asks may see: fifty from behind `after` on.",
    query: v.object({ query: v.optional(text, ""), after: v.optional(text) }),
    answer: listView,
    refuses: ["too-many"],
  },
  "GET /api/find": {
    who: "signed-in",
    does: "Change sets, threads, people, work items, repositories and commits that fit some words, of what who asks may see.",
    query: v.object({
      words: v.pipe(text, v.trim(), v.minLength(2, "Two characters at least are needed."), v.maxLength(200)),
    }),
    answer: found,
    refuses: ["too-many"],
  },
  "GET /api/rules/waiting": {
    who: "signed-in",
    does: "Editions of rules that wait for who asks to agree to them, by repository.",
    answer: v.array(v.object({ repository: text, version: number })),
  },
  "GET /api/feed": {
    who: "everyone",
    does: "A list as an Atom feed, for the owner of a token that is for feeds and nothing else.",
    query: v.object({
      q: v.optional(v.pipe(text, v.maxLength(1_000)), ""),
      token: v.pipe(text, v.minLength(1), v.maxLength(200)),
    }),
    answer: { type: "application/atom+xml", holds: "The first change sets of the list, with who moves next and why." },
    refuses: ["unauthenticated", "too-many"],
  },
  "GET /api/notices": {
    who: "signed-in",
    does: "What happened that concerns who asks, by change set, the newest first.",
    answer: notices,
  },
  "GET /api/notices/wishes": {
    who: "signed-in",
    does: "What who asks wants to hear, how and when, and what they follow.",
    answer: wishes,
  },
  "PUT /api/notices/wishes": {
    who: "signed-in",
    does: "Keeps that.",
    body: wishes,
    answer: wishes,
    refuses: ["missing"],
  },
  "GET /api/notices/count": {
    who: "signed-in",
    does: "How much of it who asks has not read.",
    answer: v.object({ unread: number }),
  },
  "PUT /api/notices": {
    who: "signed-in",
    does: "Says that who asks has read some of it, or not: by its entries, or all of one change set.",
    body: v.object({
      events: v.optional(v.pipe(v.array(text), v.maxLength(500))),
      of: v.optional(v.object({ repository: text, number })),
      read: v.boolean(),
    }),
    answer: v.object({ unread: number }),
    refuses: ["missing"],
  },
  "GET /api/lists": {
    who: "signed-in",
    does: "The lists that who asks keeps, and those that are shared with them, each with how many change sets are in it.",
    answer: keptLists,
  },
  "PUT /api/lists": {
    who: "signed-in",
    does: "Keeps a query as a list under a name, in place of the one of that name: for oneself, or shared with a repository by one of its keepers.",
    body: listRequest,
    answer: v.object({ id: text }),
    refuses: ["too-many"],
  },
  "DELETE /api/lists/{id}": {
    who: "signed-in",
    does: "Lets go of a list; of a shared one for all, by a keeper.",
    answer: v.null(),
  },
} satisfies Endpoints;
