import { tokenRequest } from "@/core/api";
import { bodyOf, refused, signedIn } from "@/server/http";
import { makeToken, tokensOf } from "@/server/tokens";

/** Makes a token. Its answer is the only time that it is told. */
export const POST = signedIn<Record<string, never>>(async ({ request, lens, person }) => {
  const body = await bodyOf(request, tokenRequest);
  if (!body.ok) return refused(body.refusal);
  const made = await makeToken(lens, person.name, body.value.label);
  if (!made.ok) return refused(made.refusal);
  return Response.json(
    { token: made.value, tokens: await tokensOf(lens, person) },
    { headers: { "cache-control": "no-store" } },
  );
});
