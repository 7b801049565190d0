import { demoSignInRequest } from "@/core/access-view";
import { sessionCookie, signInToDemo } from "@/server/access/sessions";
import { bodyOf, bySecureWay, forEveryone, refused } from "@/server/app/http";

export const POST = forEveryone(async ({ request, lens, from }) => {
  const body = await bodyOf(request, demoSignInRequest);
  if (!body.ok) return refused(body.refusal);
  const session = await signInToDemo(lens, body.value.name, {
    address: from,
    agent: request.headers.get("user-agent") ?? "",
  });
  if (!session.ok) return refused(session.refusal);
  const secure = bySecureWay(request, lens.settings.address);
  return new Response(null, { status: 204, headers: { "set-cookie": sessionCookie(session.value, secure) } });
});
