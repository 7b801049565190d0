import { tokenRequest } from "@/core/access-view";
import { makeToken, tokensOf } from "@/server/access/tokens";
import { bodyOf, inBrowser, refused } from "@/server/app/http";

/** Makes a token. Its answer is the only time that it is told. */
export const POST = inBrowser<Record<string, never>>(async ({ request, lens, person, doer }) => {
  const body = await bodyOf(request, tokenRequest);
  if (!body.ok) return refused(body.refusal);
  const made = await makeToken(lens, person.name, body.value, doer);
  if (!made.ok) return refused(made.refusal);
  return Response.json(
    { token: made.value, tokens: await tokensOf(lens, person) },
    { headers: { "cache-control": "no-store" } },
  );
});
