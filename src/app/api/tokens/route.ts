import { done } from "@/core/plain/outcome";
import { makeToken, tokensOf } from "@/server/access/tokens";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/tokens", async ({ body, app, person, doer }) => {
  const made = await makeToken(app, person.name, body, doer);
  return made.ok ? done({ token: made.value, tokens: await tokensOf(app, person) }) : made;
});
