import { roleOf } from "@/server/access/people";
import { eventStream } from "@/server/app/http/event-stream";
import { serve } from "@/server/app/serve";
import { ANY } from "@/server/news/live";

export const GET = serve("GET /api/desk/events", (asked) => {
  const { app, person } = asked;
  const hears = async (change: string) => {
    const row = await app.db.selectFrom("change_sets").select("repository").where("id", "=", change).executeTakeFirst();
    return row !== undefined && (await roleOf(app.db, person.id, row.repository)) !== null;
  };
  return eventStream(asked, ANY, async () => true, hears);
});
