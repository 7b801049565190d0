import { done } from "@/core/outcome";
import { makeToken, tokensOf } from "@/server/access/tokens";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/tokens", async ({ body, lens, person, doer }) => {
  const made = await makeToken(lens, person.name, body, doer);
  return made.ok ? done({ token: made.value, tokens: await tokensOf(lens, person) }) : made;
});
