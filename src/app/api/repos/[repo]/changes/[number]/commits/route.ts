import { done, refuse } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { commitsOf } from "@/server/changes/changes";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/commits", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const commits = await commitsOf(found.value.change, found.value.folder, asked.query.revision);
  return commits ? done(commits) : refuse("missing", "There is no such revision.");
});
