import { done } from "@/core/plain/outcome";
import { auditEntries } from "@/server/access/audit";
import { serve } from "@/server/app/serve";

const MOST = 200;

export const GET = serve("GET /api/keeping/audit", async ({ query, app }) =>
  done(await auditEntries(app, { most: MOST, before: query.before || undefined })),
);
