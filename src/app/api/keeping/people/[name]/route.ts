import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { accounts, changeAccount } from "@/server/keeping/accounts";

export const POST = serve("POST /api/keeping/people/{name}", async ({ body, parts, app, doer }) => {
  const changed = await changeAccount(app, doer, parts.name, body);
  return changed.ok ? done(await accounts(app)) : changed;
});
