import { openApi } from "@/core/endpoints/openapi";
import { serve } from "@/server/app/serve";
import { versionOf } from "@/server/app/version";

export const GET = serve("GET /api/openapi.json", async ({ app }) =>
  Response.json(openApi(versionOf(app.settings.root)), {
    headers: { "content-type": "application/openapi+json", "cache-control": "no-cache" },
  }),
);
