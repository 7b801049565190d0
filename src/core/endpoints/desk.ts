import type { Endpoints } from "./endpoint";

/** What waits for somebody, over all repositories. */
export const deskEndpoints = {
  "GET /api/desk/events": {
    who: "signed-in",
    does: "That something happened to a change set that who listens may see, from now on: time to look at the desk again.",
    answer: { type: "text/event-stream", holds: "An empty object each time." },
    refuses: ["too-many"],
  },
} satisfies Endpoints;
