import { serve } from "@/server/app/serve";
import { makeOwn } from "@/server/keeping/own-repositories";

export const POST = serve("POST /api/repos", ({ app, person, doer, body }) => makeOwn(app, person, doer, body));
