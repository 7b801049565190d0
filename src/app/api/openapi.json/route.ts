import { openApi } from "@/core/doors/endpoints/openapi";
import { serve } from "@/server/app/serve";
import { versionOf } from "@/server/app/version";

/** Made once: it is the same for everyone, and anyone may ask. */
let made: string | null = null;

export const GET = serve("GET /api/openapi.json", async ({ app }) => {
  made ??= JSON.stringify(openApi(versionOf(app.settings.root)));
  return new Response(made, {
    headers: { "content-type": "application/openapi+json", "cache-control": "no-cache" },
  });
});
