import { healthOf } from "@/server/app/health";
import { serve } from "@/server/app/serve";

export const dynamic = "force-dynamic";

export const GET = serve("GET /api/health", async ({ app }) => {
  const { well, why } = await healthOf(app);
  return Response.json(
    { well, ...(why ? { why } : {}) },
    { status: well ? 200 : 503, headers: { "cache-control": "no-store" } },
  );
});
