import { inPersonsTurn } from "@/server/access/allowances";
import { serve } from "@/server/app/serve";
import { tryRules } from "@/server/rules/rule-trial";

export const POST = serve("POST /api/repos/{repo}/rules/try", ({ request, body, parts, app, person }) =>
  inPersonsTurn(app, person, request.signal, () => tryRules(app, person, parts.repo, body.rules)),
);
