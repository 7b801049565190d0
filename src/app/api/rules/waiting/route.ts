import { done } from "@/core/plain/outcome";
import { repositoriesOf } from "@/server/access/repositories";
import { serve } from "@/server/app/serve";
import { rulesThatWait } from "@/server/rules/second-keeper";

export const GET = serve("GET /api/rules/waiting", async ({ app, person }) =>
  done(await rulesThatWait(app, person, await repositoriesOf(app, person))),
);
