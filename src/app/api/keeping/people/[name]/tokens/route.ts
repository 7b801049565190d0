import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { accounts, makeMachineToken } from "@/server/keeping/accounts";

export const POST = serve("POST /api/keeping/people/{name}/tokens", async ({ app, doer, parts, body }) => {
  const token = await makeMachineToken(app, doer, parts.name, body);
  return token.ok ? done({ token: token.value, people: await accounts(app) }) : token;
});
