import { done, type Outcome } from "@/core/plain/outcome";
import { jsonLines } from "@/server/app/http/json-lines";
import { serve } from "@/server/app/serve";
import { remotesOf, syncAlone } from "@/server/ledger/sync-alone";

export const GET = serve("GET /api/repos/{repo}/sync", async ({ app, person, parts }) => {
  const remotes = await remotesOf(app, person, parts.repo);
  return remotes.ok ? done({ remotes: remotes.value }) : remotes;
});

export const POST = serve("POST /api/repos/{repo}/sync", ({ app, person, parts, body }) =>
  jsonLines<string | null>((say): Promise<Outcome<null>> => syncAlone(app, person, parts.repo, body, say)),
);
