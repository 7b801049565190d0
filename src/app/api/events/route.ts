import { addressOf } from "@/server/app/http/http";
import { askerOf, serve } from "@/server/app/serve";
import { streamOf } from "@/server/hooks/stream";

export const GET = serve("GET /api/events", async ({ app, person, request, query, from }) =>
  streamOf(app, person, {
    after: query.after ?? request.headers.get("last-event-id"),
    address: addressOf(request, app.settings.address),
    signal: request.signal,
    still: async () => {
      const known = await askerOf(app, request, from);
      return known.ok && known.value.person.id === person.id;
    },
  }),
);
