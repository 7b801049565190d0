import { serve } from "@/server/app/serve";
import { keepLabel, labelsFor } from "@/server/house/labels/labels";

export const GET = serve("GET /api/repos/{repo}/labels", ({ app, person, parts }) =>
  labelsFor(app, person, parts.repo),
);

export const PUT = serve("PUT /api/repos/{repo}/labels", ({ app, person, doer, parts, body }) =>
  keepLabel(app, person, doer, parts.repo, body),
);
