import { serve } from "@/server/app/serve";
import { joinStranger } from "@/server/ledger/neighbour-care";

export const POST = serve("POST /api/keeping/joined", ({ app, doer, body }) => joinStranger(app, doer, body));
