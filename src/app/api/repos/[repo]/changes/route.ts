import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { openChange } from "@/server/changes/revisions/opening";

export const POST = serve("POST /api/repos/{repo}/changes", async ({ body, parts, app, person }) => {
  const opened = await openChange(app, person, parts.repo, body);
  return opened.ok ? done({ number: opened.value.number }) : opened;
});
