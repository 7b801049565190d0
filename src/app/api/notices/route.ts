import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { findChange } from "@/server/changes/changes";
import { countUnread, markNotices, noticesOf } from "@/server/news/notices";

export const GET = serve("GET /api/notices", async ({ app, person }) => done(await noticesOf(app, person)));

export const PUT = serve("PUT /api/notices", async ({ app, person, body: { events, of, read } }) => {
  if (events) await markNotices(app, person, { events }, read);
  if (of) {
    const found = await findChange(app, person, of.repository, of.number);
    if (!found.ok) return found;
    await markNotices(app, person, { change: found.value.change.id }, read);
  }
  return done({ unread: await countUnread(app, person) });
});
