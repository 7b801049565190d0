import * as v from "valibot";
import { joinRequest, type NeighboursView, neighbourRequest } from "../../views/neighbours-view";
import type { Endpoints } from "./endpoint";
import type { Shape } from "./shapes";

const text = v.string();
const neighbours = v.object({
  key: text,
  neighbours: v.array(
    v.object({
      ...{ repository: text, name: text, address: text, account: text, key: text, every: v.number() },
      ...{ askedAt: v.nullable(v.number()), problem: text, isHeard: v.boolean() },
    }),
  ),
  strangers: v.array(v.object({ name: text, fullName: text, joined: v.nullable(text) })),
}) satisfies Shape<NeighboursView>;

/** Other servers that hold the reviews of the same repositories. */
export const neighbourEndpoints = {
  "GET /api/keeping/neighbours": {
    who: "administrators",
    does: "The other servers that are asked for reviews, and the people of theirs who are known here.",
    answer: neighbours,
  },
  "POST /api/keeping/neighbours": {
    who: "administrators",
    does: "Asks another server from now on for the reviews of a repository, in place of the one that had its name.",
    body: neighbourRequest,
    answer: neighbours,
    refuses: ["conflict"],
  },
  "DELETE /api/keeping/neighbours/{repo}/{name}": {
    who: "administrators",
    does: "Asks a server no more. What it said stays.",
    answer: neighbours,
  },
  "POST /api/keeping/neighbours/{repo}/{name}/asks": {
    who: "administrators",
    does: "Asks a server now. What was wrong is in the answer.",
    answer: neighbours,
  },
  "POST /api/keeping/joined": {
    who: "administrators",
    does: "Says that somebody of another server is a person of this one, or nobody again. What they say there counts at no gate here.",
    body: joinRequest,
    answer: neighbours,
  },
} satisfies Endpoints;
