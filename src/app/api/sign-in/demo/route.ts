import { demoSignInRequest } from "@/core/api";
import { bodyOf, bySecureWay, forEveryone, refused } from "@/server/http";
import { sessionCookie, signInToDemo } from "@/server/sessions";

export const POST = forEveryone(async ({ request, lens }) => {
  const body = await bodyOf(request, demoSignInRequest);
  if (!body.ok) return refused(body.refusal);
  const session = await signInToDemo(lens, body.value.name);
  if (!session.ok) return refused(session.refusal);
  const secure = bySecureWay(request, lens.settings.address);
  return new Response(null, { status: 204, headers: { "set-cookie": sessionCookie(session.value, secure) } });
});
