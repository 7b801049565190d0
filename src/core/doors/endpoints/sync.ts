import * as v from "valibot";
import type { Endpoints } from "./endpoint";

/** Reviews between clones, where a clone alone is served: see `lens here` and `lens sync`. */
export const syncEndpoints = {
  "GET /api/repos/{repo}/sync": {
    who: "signed-in",
    does: "The remotes of a clone that is served alone.",
    answer: v.object({ remotes: v.array(v.string()) }),
  },
  "POST /api/repos/{repo}/sync": {
    who: "signed-in",
    does: "Gives the reviews of a clone that is served alone to one of its remotes, and takes those that are there.",
    body: v.object({
      remote: v.pipe(v.string(), v.maxLength(300)),
      /** Whether the branches of change sets that began here go along, so that a server opens them. */
      offer: v.optional(v.boolean()),
    }),
    answer: {
      type: "application/x-ndjson",
      holds: "JSON lines: sentences as there is something to say, and last null; or the refusal where it broke off.",
    },
    refuses: ["conflict", "unavailable"],
  },
  "POST /api/repos/{repo}/neighbours/{name}/told": {
    who: "everyone",
    does: "For the webhook of a neighbour: where it is signed with the secret that was agreed, what was said there is fetched now.",
    body: { type: "application/json", holds: "Any message of the neighbour, signed as Standard Webhooks are." },
    answer: null,
    refuses: ["too-large"],
  },
} satisfies Endpoints;
