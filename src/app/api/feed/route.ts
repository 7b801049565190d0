import { refuse } from "@/core/plain/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { feedReaderOf } from "@/server/access/tokens";
import { serve } from "@/server/app/serve";
import { feedOf } from "@/server/house/lists/feed";

export const GET = serve("GET /api/feed", async ({ app, query, request }) => {
  const person = await feedReaderOf(app, query.token);
  if (!person) return refuse("unauthenticated", "This address has no token for feeds, or one that has ended.");
  const feed = await inPersonsTurn(app, person, request.signal, () => feedOf(app, person, query.q));
  if (!feed.ok) return feed;
  return new Response(feed.value, {
    headers: { "content-type": "application/atom+xml; charset=utf-8", "cache-control": "private, no-store" },
  });
});
