import { done } from "@/core/plain/outcome";
import { enter } from "@/server/access/repositories";
import { serve } from "@/server/app/serve";
import { editionsOf } from "@/server/rules/rules";

export const GET = serve("GET /api/repos/{repo}/rules/history", async ({ parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  return entered.ok ? done(await editionsOf(app.db, entered.value.repository.id)) : entered;
});
