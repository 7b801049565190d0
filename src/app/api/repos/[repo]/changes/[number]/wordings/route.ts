import { done } from "@/core/outcome";
import { askedChange } from "@/server/app/asked";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/wordings", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? done(found.value.change.wordings) : found;
});
