import { serve } from "@/server/app/serve";
import { dropGroup } from "@/server/keeping/groups";

export const DELETE = serve("DELETE /api/keeping/groups/{name}", ({ app, doer, parts }) =>
  dropGroup(app, doer, parts.name),
);
