import { serve } from "@/server/app/serve";
import { settleEdition } from "@/server/rules/second-keeper";

export const POST = serve("POST /api/repos/{repo}/rules/history/{version}", ({ body, parts, app, person, doer }) =>
  settleEdition(app, person, parts.repo, Number(parts.version), body.agrees, doer),
);
