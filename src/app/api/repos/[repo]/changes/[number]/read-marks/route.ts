import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { markLooked, markRead } from "@/server/reading/read-marks";

export const PUT = serve("PUT /api/repos/{repo}/changes/{number}/read-marks", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const { app, person, body } = asked;
  if ("looked" in body) await markLooked(app, person, change, body);
  else await markRead(app, person, change, folder, body);
  return done(null);
});
