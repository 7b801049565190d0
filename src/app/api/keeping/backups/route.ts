import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { backupsOf, beginBackup } from "@/server/keeping/kept-backups";

export const GET = serve("GET /api/keeping/backups", async ({ app }) => done(await backupsOf(app)));

export const POST = serve("POST /api/keeping/backups", ({ app, doer }) => beginBackup(app, doer));
