import * as v from "valibot";
import type { Endpoints } from "./endpoint";

/** How the installation is, and what can be asked of it. */
export const aboutEndpoints = {
  "GET /api/health": {
    who: "everyone",
    does: "Tells whether everything can be read and written: 200, or 503 with a sentence.",
    answer: v.object({ well: v.boolean(), why: v.optional(v.string()) }),
  },
  "GET /api/openapi.json": {
    who: "everyone",
    does: "All of this for programs, as an OpenAPI 3.1 document.",
    answer: { type: "application/openapi+json", holds: "The document." },
  },
  "GET /api/client.ts": {
    who: "everyone",
    does: "A client in TypeScript, made from that document: one file that needs nothing else.",
    answer: { type: "text/typescript", holds: "The source." },
  },
} satisfies Endpoints;
