import { serve } from "@/server/app/serve";
import { hooksOf, makeHook } from "@/server/hooks/hooks";

export const GET = serve("GET /api/keeping/hooks", ({ app, person }) => hooksOf(app, person, null));

export const POST = serve("POST /api/keeping/hooks", ({ app, person, doer, body }) =>
  makeHook(app, person, doer, null, body),
);
