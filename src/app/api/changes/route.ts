import { inPersonsTurn } from "@/server/access/allowances";
import { serve } from "@/server/app/serve";
import { findChanges } from "@/server/house/lists/find";

export const GET = serve("GET /api/changes", ({ app, person, query, request }) =>
  inPersonsTurn(app, person, request.signal, () => findChanges(app, person, query.query, query.after ?? null)),
);
