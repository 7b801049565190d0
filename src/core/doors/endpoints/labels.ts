import * as v from "valibot";
import { labelRequest } from "../../house/labels/labels";
import type { Endpoints } from "./endpoint";
import { label } from "./shapes";

/** Labels of a repository. Which of them a change set has is told with it, and said by the command `label`. */
export const labelEndpoints = {
  "GET /api/repos/{repo}/labels": {
    who: "signed-in",
    does: "The labels of a repository.",
    answer: v.array(label),
  },
  "PUT /api/repos/{repo}/labels": {
    who: "signed-in",
    does: "Adds a label, or says something else of the one of that name. For keepers.",
    body: labelRequest,
    answer: v.array(label),
    refuses: ["conflict"],
  },
  "DELETE /api/repos/{repo}/labels/{name}": {
    who: "signed-in",
    does: "Takes a label away from the repository and from all its change sets. For keepers.",
    answer: v.array(label),
  },
} satisfies Endpoints;
