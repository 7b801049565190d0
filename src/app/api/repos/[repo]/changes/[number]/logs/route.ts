import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { logsOf } from "@/server/checks/logs";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/logs", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? done(await logsOf(asked.app, found.value.change)) : found;
});
