import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/wordings", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? done(found.value.change.wordings) : found;
});
