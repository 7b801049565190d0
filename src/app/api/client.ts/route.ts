import { clientSource } from "@/core/doors/endpoints/client-source";
import { serve } from "@/server/app/serve";
import { versionOf } from "@/server/app/version";

/** Made once: it is the same for everyone, and anyone may ask. */
let made: string | null = null;

export const GET = serve("GET /api/client.ts", async ({ app }) => {
  made ??= clientSource(versionOf(app.settings.root));
  return new Response(made, {
    headers: { "content-type": "text/typescript; charset=utf-8", "cache-control": "no-cache" },
  });
});
