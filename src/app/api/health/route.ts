import { healthOf } from "@/server/app/health";
import { jsonAnswer } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";

export const dynamic = "force-dynamic";

export const GET = serve("GET /api/health", async ({ app }) => {
  const { well, why } = await healthOf(app);
  return jsonAnswer(why ? { well, why } : { well }, { status: well ? 200 : 503 });
});
