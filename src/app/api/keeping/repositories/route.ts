import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { keptRepositories } from "@/server/keeping/repositories";

export const GET = serve("GET /api/keeping/repositories", async ({ app }) => done(await keptRepositories(app)));
