import { done } from "@/core/outcome";
import { enter } from "@/server/access/repositories";
import { serve } from "@/server/app/serve";
import { editionsOf } from "@/server/rules/rules";

export const GET = serve("GET /api/repos/{repo}/rules/history", async ({ parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  return entered.ok ? done(await editionsOf(lens.db, entered.value.repository.id)) : entered;
});
