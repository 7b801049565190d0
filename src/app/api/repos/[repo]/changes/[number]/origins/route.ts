import { done } from "@/core/outcome";
import { newest } from "@/core/review/state";
import { askedReading } from "@/server/app/asked";
import { serve } from "@/server/app/serve";
import { originsOf } from "@/server/reading/history";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/origins", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { change, folder, points } = reading.value;
  return done(await originsOf(asked.app, folder, points, asked.query.path, newest(change).base));
});
