import { done } from "@/core/plain/outcome";
import { inPersonsTurn } from "@/server/access/allowances";
import { serve } from "@/server/app/serve";
import { findAnything } from "@/server/house/lists/find-anything";

export const GET = serve("GET /api/find", ({ app, person, query, request }) =>
  inPersonsTurn(app, person, request.signal, async () => done(await findAnything(app, person, query.words))),
);
