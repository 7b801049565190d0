import * as v from "valibot";
import { type DeliveryView, type HookView, hookRequest } from "../../views/hooks-view";
import type { Endpoints } from "./endpoint";
import type { Shape } from "./shapes";

const text = v.string();
const hooks = v.array(
  v.object({ id: text, url: text, kinds: v.array(text), madeAt: v.number(), waiting: v.number() }),
) satisfies Shape<HookView[]>;
const deliveries = v.array(
  v.object({
    ...{ id: text, kind: text, at: v.number(), tries: v.number(), doneAt: v.nullable(v.number()) },
    ...{ givenUp: v.boolean(), answer: text },
  }),
) satisfies Shape<DeliveryView[]>;

/** How programs hear of what happens: webhooks of a repository, for its keepers, and of all, for administrators. Messages are signed by the Standard Webhooks scheme. */
export const hookEndpoints = {
  "GET /api/events": {
    who: "signed-in",
    does: "What happens in all repositories that who asks may see, in order, from behind one event on: that of the query, or of the header Last-Event-ID; from now on without either.",
    query: v.object({ after: v.optional(v.pipe(text, v.maxLength(40))) }),
    answer: { type: "text/event-stream", holds: "The same JSON as webhooks are sent, each with the id of its event." },
    refuses: ["missing", "too-many"],
  },
  "GET /api/keeping/hooks": {
    who: "administrators",
    does: "The addresses that are told what happens in all repositories.",
    answer: hooks,
  },
  "POST /api/keeping/hooks": {
    who: "administrators",
    does: "Adds an address that is told what happens in all repositories, those that come later too. Its answer is the only time that the secret is told.",
    body: hookRequest,
    answer: v.object({ secret: text, hooks }),
    refuses: ["conflict"],
  },
  "DELETE /api/keeping/hooks/{id}": {
    who: "administrators",
    does: "Takes such an address away, with what waits to be delivered to it.",
    answer: null,
  },
  "GET /api/keeping/hooks/{id}/deliveries": {
    who: "administrators",
    does: "The last messages to such an address, with what was answered.",
    answer: deliveries,
  },
  "POST /api/keeping/hooks/{id}/deliveries": {
    who: "administrators",
    does: "Sends a message to such an address again, with the same id.",
    body: v.object({ delivery: v.pipe(text, v.maxLength(40)) }),
    answer: null,
  },
  "GET /api/repos/{repo}/hooks": {
    who: "signed-in",
    does: "The addresses that are told what happens in a repository.",
    answer: hooks,
  },
  "POST /api/repos/{repo}/hooks": {
    who: "signed-in",
    does: "Adds an address that is told what happens, of some kinds or everything. Its answer is the only time that the secret is told.",
    body: hookRequest,
    answer: v.object({ secret: text, hooks }),
    refuses: ["conflict"],
  },
  "DELETE /api/repos/{repo}/hooks/{id}": {
    who: "signed-in",
    does: "Takes an address away, with what waits to be delivered to it.",
    answer: null,
  },
  "GET /api/repos/{repo}/hooks/{id}/deliveries": {
    who: "signed-in",
    does: "The last messages to an address, with what was answered.",
    answer: deliveries,
  },
  "POST /api/repos/{repo}/hooks/{id}/deliveries": {
    who: "signed-in",
    does: "Sends a message again, with the same id.",
    body: v.object({ delivery: v.pipe(text, v.maxLength(40)) }),
    answer: null,
  },
} satisfies Endpoints;
