import { serve } from "@/server/app/serve";
import { dropLabel } from "@/server/house/labels/labels";

export const DELETE = serve("DELETE /api/repos/{repo}/labels/{name}", ({ app, person, doer, parts }) =>
  dropLabel(app, person, doer, parts.repo, parts.name),
);
