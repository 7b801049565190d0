import { serve } from "@/server/app/serve";
import { hooksOf, makeHook } from "@/server/hooks/hooks";

export const GET = serve("GET /api/repos/{repo}/hooks", ({ app, person, parts }) => hooksOf(app, person, parts.repo));

export const POST = serve("POST /api/repos/{repo}/hooks", ({ app, person, doer, parts, body }) =>
  makeHook(app, person, doer, parts.repo, body),
);
