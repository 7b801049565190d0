import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { sizesOf } from "@/server/reading/sizes";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/sizes", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? done(await sizesOf(asked.app, found.value.change, found.value.folder)) : found;
});
