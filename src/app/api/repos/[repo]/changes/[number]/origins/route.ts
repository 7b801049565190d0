import { done } from "@/core/outcome";
import { askedReading } from "@/server/app/asked";
import { serve } from "@/server/app/serve";
import { originsOf } from "@/server/reading/history";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/origins", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { change, folder, points, name } = reading.value;
  return done(await originsOf(asked.app, folder, change, { ...points, name }, asked.query.path));
});
