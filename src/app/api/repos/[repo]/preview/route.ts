import { serve } from "@/server/app/serve";
import { previewChange } from "@/server/changes/revisions/opening";

export const GET = serve("GET /api/repos/{repo}/preview", ({ query, parts, app, person }) =>
  previewChange(app, person, parts.repo, query.source, query.target),
);
