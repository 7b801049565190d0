import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { keepWishes, wishesOf } from "@/server/news/wishes";

export const GET = serve("GET /api/notices/wishes", async ({ app, person }) => done(await wishesOf(app.db, person.id)));

export const PUT = serve("PUT /api/notices/wishes", ({ app, person, body }) => keepWishes(app, person, body));
