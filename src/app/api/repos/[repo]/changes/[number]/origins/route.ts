import { done } from "@/core/plain/outcome";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { originsOf } from "@/server/reading/history/history";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/origins", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { change, folder, points, name } = reading.value;
  return done(await originsOf(asked.app, folder, change, { ...points, name }, asked.query.path));
});
