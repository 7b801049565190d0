import { done } from "@/core/plain/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { leftAloneBy } from "@/server/names/left-alone";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/left-alone", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { folder, points } = reading.value;
  const { app, person, request } = asked;
  return inPersonsTurn(app, person, request.signal, async () => done(await leftAloneBy(app, folder, points)));
});
