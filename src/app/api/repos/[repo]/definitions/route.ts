import { isObjectId } from "@/core/diff/tree";
import { refuse } from "@/core/outcome";
import { enter } from "@/server/access/repositories";
import { readyJson } from "@/server/app/http";
import { serve } from "@/server/app/serve";
import { mayServe } from "@/server/reading/shown";

export const GET = serve("GET /api/repos/{repo}/definitions", async ({ query, parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const { folder } = entered.value;
  const { id, path } = query;
  if (!isObjectId(id)) return refuse("invalid", "Give the object id of a blob.");
  const may = await mayServe(app, folder, [id]);
  return may.ok ? readyJson(await app.workers.definitions({ folder, id, path }), true) : may;
});
