import { done } from "@/core/plain/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { lookUp } from "@/server/names/look-up";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/names", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { folder, points } = reading.value;
  const { app, person, request, query } = asked;
  const name = { ...query, line: Number(query.line), of: query.of ?? null };
  return inPersonsTurn(app, person, request.signal, async () =>
    done(await lookUp(app, folder, points, name, request.signal)),
  );
});
