import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { pick } from "@/server/changes/revisions/taking";

export const PUT = serve("PUT /api/repos/{repo}/changes/{number}/picks", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? pick(asked.app, asked.person, found.value.change, asked.body) : found;
});
