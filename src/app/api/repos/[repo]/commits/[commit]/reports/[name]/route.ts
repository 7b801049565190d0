import { LARGEST_REPORT } from "@/core/checks/report";
import { done } from "@/core/plain/outcome";
import { bytesOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { mayReport, takeReport } from "@/server/checks/checking";

export const POST = serve("POST /api/repos/{repo}/commits/{commit}/reports/{name}", async (asked) => {
  const { request, parts, app, person, query } = asked;
  const may = await mayReport(app, person, parts.repo, parts.commit);
  if (!may.ok) return may;
  const bytes = await bytesOf(request, LARGEST_REPORT);
  if (!bytes.ok) return bytes;
  const { folder } = may.value;
  const { repo, commit, name } = parts;
  const told = await takeReport(app, person, repo, commit, name, folder, bytes.value, {
    signal: request.signal,
    least: query.least,
  });
  return told.ok ? done({ changes: told.value.map(({ number }) => number) }) : told;
});
