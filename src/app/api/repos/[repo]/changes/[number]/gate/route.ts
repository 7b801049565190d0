import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { gateAfter } from "@/server/changes/gate-after";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/gate", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  return done(await gateAfter(asked.app, asked.person, found.value.change, asked.query.verdict));
});
