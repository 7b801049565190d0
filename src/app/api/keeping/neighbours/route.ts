import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { neighboursView, setNeighbour } from "@/server/ledger/neighbour-care";

export const GET = serve("GET /api/keeping/neighbours", async ({ app }) => done(await neighboursView(app)));

export const POST = serve("POST /api/keeping/neighbours", ({ app, doer, body }) => setNeighbour(app, doer, body));
