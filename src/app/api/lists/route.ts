import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { keepList, listsOf } from "@/server/house/lists/kept-lists";

export const GET = serve("GET /api/lists", async ({ app, person }) => done(await listsOf(app, person)));
export const PUT = serve("PUT /api/lists", ({ app, person, body }) => keepList(app, person, body));
