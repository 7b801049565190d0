import { serve } from "@/server/app/serve";
import { endNeighbour } from "@/server/ledger/neighbour-care";

export const DELETE = serve("DELETE /api/keeping/neighbours/{repo}/{name}", ({ app, doer, parts }) =>
  endNeighbour(app, doer, parts.repo, parts.name),
);
