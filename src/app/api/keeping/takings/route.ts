import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { beginTaking, takingsOf } from "@/server/keeping/takings";

export const GET = serve("GET /api/keeping/takings", async ({ app }) => done(await takingsOf(app)));

export const POST = serve("POST /api/keeping/takings", ({ body, app, doer }) => beginTaking(app, doer, body));
