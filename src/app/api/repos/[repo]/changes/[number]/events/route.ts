import { roleOf } from "@/server/access/people";
import { askedChange } from "@/server/app/http/asked";
import { eventStream } from "@/server/app/http/event-stream";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/events", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { id, repository } = found.value.change;
  return eventStream(asked, id, async (person) => (await roleOf(asked.app.db, person, repository)) !== null);
});
