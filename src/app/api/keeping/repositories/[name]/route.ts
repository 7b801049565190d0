import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { changeRepository, keptRepositories } from "@/server/keeping/repositories";

export const POST = serve("POST /api/keeping/repositories/{name}", async ({ body, parts, app, doer }) => {
  const changed = await changeRepository(app, doer, parts.name, body);
  return changed.ok ? done(await keptRepositories(app)) : changed;
});
