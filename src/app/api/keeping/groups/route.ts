import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { groupsOf, keepGroup } from "@/server/keeping/groups";

export const GET = serve("GET /api/keeping/groups", async ({ app }) => done(await groupsOf(app)));

export const PUT = serve("PUT /api/keeping/groups", ({ app, doer, body }) => keepGroup(app, doer, body));
