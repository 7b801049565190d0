import { done } from "@/core/plain/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { blameOf } from "@/server/reading/history/file-history";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/blame", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { folder, points } = reading.value;
  const { app, person, request, query } = asked;
  const at = { commit: query.side === "old" ? points.from : points.to, path: query.path };
  return inPersonsTurn(app, person, request.signal, async () => done(await blameOf(folder, at, request.signal)));
});
