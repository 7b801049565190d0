import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { progressOf } from "@/server/reading/reading";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/progress", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? done(await progressOf(asked.app, found.value.change, found.value.folder)) : found;
});
