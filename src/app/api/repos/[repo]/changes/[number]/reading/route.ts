import { done } from "@/core/plain/outcome";
import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { readingFor } from "@/server/reading/reading";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/reading", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { change, folder, name, points } = reading.value;
  const { whole, brief, path, next } = asked.query;
  const wanted = { whole: whole !== undefined, brief: brief !== undefined, path, next: Number(next ?? 0) };
  return done(await readingFor(asked.app, asked.person, change, folder, name, points, wanted));
});
