import { serve } from "@/server/app/serve";
import { filesAt } from "@/server/reading/files-at";

export const GET = serve("GET /api/repos/{repo}/tree", ({ query, parts, app, person }) =>
  filesAt(app, person, parts.repo, query.at),
);
