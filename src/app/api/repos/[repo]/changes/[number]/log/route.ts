import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { logOf } from "@/server/checks/logs";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/log", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { check, by } = asked.query;
  return done({ tail: await logOf(asked.app, found.value.change, check, by) });
});
