import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { mayReport, report } from "@/server/checks/checking";

export const POST = serve("POST /api/repos/{repo}/commits/{commit}/checks", async ({ body, parts, app, person }) => {
  const may = await mayReport(app, person, parts.repo, parts.commit);
  if (!may.ok) return may;
  const told = await report(app, person, parts.repo, parts.commit, body);
  return told.ok ? done({ changes: told.value.map(({ number }) => number) }) : told;
});
