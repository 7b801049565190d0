import * as v from "valibot";
import { commandRequest } from "../../review/families/table";
import { MERGE_KINDS } from "../../rules/rule";
import {
  followRequest,
  gatePreviewRequest,
  openRequest,
  pickRequest,
  readMarkRequest,
  unsentRequest,
} from "../../views/api";
import { changeAnswer } from "./change-parts";
import type { Endpoints } from "./endpoint";
import * as shape from "./shapes";

const have = v.object({
  /** The id of the last event that who asks knows of: `change` is left out where it is still the last. */
  have: v.optional(v.pipe(v.string(), v.maxLength(64))),
});
/** The number of a revision, in a query. */
const revision = v.pipe(v.string(), v.regex(/^\d{1,6}$/, "That is no revision."), v.transform(Number));
const made = v.object({ number: v.number() });

/** Change sets: opening them, what is done with them, and what belongs to one person in them. */
export const changeEndpoints = {
  "GET /api/repos/{repo}/preview": {
    who: "signed-in",
    does: "Tells what opening a change set from one branch into another would give.",
    query: v.object({ source: v.string(), target: v.string() }),
    answer: v.object({
      commits: v.array(shape.commit),
      revision: v.object({ head: v.string(), target: v.string(), base: v.string() }),
      /** What a description may begin with: the reason of the only commit, or the template of the target. */
      description: v.string(),
      /** Who can be asked to review it, and for whom the rule asks: the paths that they are a steward of. */
      reviewers: v.array(v.object({ id: v.string(), fullName: v.string(), steward: v.nullable(v.string()) })),
    }),
    refuses: ["conflict"],
  },
  "POST /api/repos/{repo}/changes": {
    who: "signed-in",
    does: "Opens a change set, and answers with its number.",
    body: openRequest,
    answer: made,
    status: 201,
    refuses: ["conflict"],
  },
  "GET /api/repos/{repo}/changes/{number}": {
    who: "signed-in",
    does: "A change set as who asks sees it, with what they may do and have not sent.",
    query: have,
    answer: changeAnswer,
  },
  "POST /api/repos/{repo}/changes/{number}": {
    who: "signed-in",
    does: "Carries a command out, and answers with the change set as it is then. The same key carries the same out once.",
    query: have,
    body: commandRequest,
    answer: changeAnswer,
    refuses: ["conflict", "too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/text": {
    who: "signed-in",
    does: "A change set as text that can be written into and sent back; one file of it alone, where it is named; or what is new since a revision.",
    query: v.object({
      path: v.optional(v.pipe(v.string(), v.maxLength(4_096))),
      since: v.optional(revision),
    }),
    answer: { type: "text/plain", holds: "The form, see docs/text-form.md." },
    refuses: ["too-many"],
  },
  "POST /api/repos/{repo}/changes/{number}/text": {
    who: "signed-in",
    does: "Sends a form that was filled in, all of it as one review; or tells what is wrong in it, and at which lines. The same form is carried out once.",
    query: v.object({ strict: v.optional(v.picklist(["yes", "no"]), "no") }),
    body: { type: "text/plain", holds: "The form, up to 8 MB." },
    answer: v.object({
      says: v.array(v.string()),
      problems: v.array(v.object({ line: v.number(), says: v.string() })),
    }),
    refuses: ["conflict", "too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/gate": {
    who: "signed-in",
    does: "Tells how the gate would stand if one sent what one has not sent, with a verdict.",
    query: gatePreviewRequest,
    answer: shape.gate,
  },
  "GET /api/repos/{repo}/changes/{number}/merge": {
    who: "signed-in",
    does: "Tells what merging in one way would make, and what stands against it.",
    query: v.object({ how: v.optional(v.picklist(MERGE_KINDS), "merge"), revision: v.optional(revision) }),
    answer: shape.mergePreview,
    refuses: ["conflict", "too-many"],
  },
  "POST /api/repos/{repo}/changes/{number}/revert": {
    who: "signed-in",
    does: "Offers a change set that takes a merged one back, and answers with its number.",
    answer: made,
    status: 201,
    refuses: ["conflict"],
  },
  "PUT /api/repos/{repo}/changes/{number}/unsent/{id}": {
    who: "signed-in",
    does: "Keeps a remark, a task or the closing word while it is written. Nobody else sees it before it is sent.",
    body: unsentRequest,
    answer: shape.unsent,
    refuses: ["conflict"],
  },
  "DELETE /api/repos/{repo}/changes/{number}/unsent/{id}": {
    who: "signed-in",
    does: "Drops what was not sent.",
    answer: null,
  },
  "DELETE /api/repos/{repo}/changes/{number}/source": {
    who: "signed-in",
    does: "Removes the branch of a settled change set, where nothing needs it any more.",
    answer: null,
    refuses: ["conflict"],
  },
  "PUT /api/repos/{repo}/changes/{number}/picks": {
    who: "signed-in",
    does: "Picks a suggestion to be taken, or puts it back.",
    body: pickRequest,
    answer: null,
    refuses: ["conflict"],
  },
  "PUT /api/repos/{repo}/changes/{number}/read-marks": {
    who: "signed-in",
    does: "Marks a file read or unread, or some as had before one to their ends.",
    body: readMarkRequest,
    answer: null,
  },
  "PUT /api/repos/{repo}/changes/{number}/follow": {
    who: "signed-in",
    does: "Turns mail about a change set off or on, for who asks.",
    body: followRequest,
    answer: null,
  },
  "GET /api/repos/{repo}/changes/{number}/wordings": {
    who: "signed-in",
    does: "What title and description said before, the oldest first.",
    answer: v.array(shape.wording),
  },
  "GET /api/repos/{repo}/changes/{number}/events": {
    who: "signed-in",
    does: "What happens to a change set from now on, as long as who listens may see it.",
    answer: { type: "text/event-stream", holds: "JSON with the kind, who did it, and a sentence that says so." },
    refuses: ["too-many"],
  },
  "GET /api/repos/{repo}/changes/{number}/yardstick": {
    who: "signed-in",
    does: "Tells how the files of a change set stand to a branch or tag; without a name, which there are.",
    query: v.object({ name: v.optional(v.string()) }),
    answer: shape.yardstick,
  },
  "POST /api/repos/{repo}/changes/{number}/yardstick": {
    who: "signed-in",
    does: "Takes the files that a branch or tag has already out of the change set, in a new revision.",
    body: v.object({ name: v.pipe(v.string(), v.maxLength(300)) }),
    answer: v.object({ revision: v.number() }),
    refuses: ["conflict"],
  },
} satisfies Endpoints;
