import { done } from "@/core/plain/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { lineHistory } from "@/server/reading/history/line-history";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/line-history", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { change, folder, points } = reading.value;
  const { app, person, request, query } = asked;
  const from = { commit: query.side === "old" ? points.from : points.to, path: query.path, line: Number(query.line) };
  return inPersonsTurn(app, person, request.signal, async () =>
    done(await lineHistory(app, folder, change, from, request.signal)),
  );
});
