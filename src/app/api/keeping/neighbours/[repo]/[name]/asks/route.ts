import { serve } from "@/server/app/serve";
import { askNeighbour } from "@/server/ledger/neighbour-care";

export const POST = serve("POST /api/keeping/neighbours/{repo}/{name}/asks", ({ app, parts }) =>
  askNeighbour(app, parts.repo, parts.name),
);
