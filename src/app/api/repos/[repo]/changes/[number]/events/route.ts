import { refuse } from "@/core/outcome";
import { MOST_STREAMS } from "@/server/access/allowances";
import { roleOf } from "@/server/access/people";
import { askedChange } from "@/server/app/asked";
import { askerOf, serve } from "@/server/app/serve";
import { newsOf } from "@/server/news/live";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/events", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { app, person, request, from } = asked;
  const { id, repository } = found.value.change;
  const open = await app.kept<{ many: number }>("streams", 5_000).get(person.id, async () => ({ many: 0 }));
  if (open.many >= MOST_STREAMS) return refuse("too-many", `${MOST_STREAMS} pages of yours are open here: close some.`);
  open.many++;
  const still = async () => {
    const known = await askerOf(app, request, from);
    return known.ok && known.value.person.id === person.id && (await roleOf(app.db, person.id, repository)) !== null;
  };
  const body = newsOf(app, id, request.signal, still, () => open.many--);
  return new Response(body, {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
});
