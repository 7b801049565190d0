import { done } from "@/core/plain/outcome";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { classesOf } from "@/server/reading/classes";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/classes", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { folder, points } = reading.value;
  return done(await classesOf(asked.app, folder, points, asked.query.path));
});
