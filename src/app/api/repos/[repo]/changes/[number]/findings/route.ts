import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { findingsOf } from "@/server/checks/checking";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/findings", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? done(await findingsOf(asked.app, found.value.change)) : found;
});
