import { signInRequest } from "@/core/access-view";
import { sessionCookie, signIn } from "@/server/access/sessions";
import { bodyOf, bySecureWay, forEveryone, refused } from "@/server/app/http";

export const POST = forEveryone(async ({ request, lens, from }) => {
  const body = await bodyOf(request, signInRequest);
  if (!body.ok) return refused(body.refusal);
  const whence = { address: from, agent: request.headers.get("user-agent") ?? "" };
  const session = await signIn(lens, body.value.name, body.value.password, whence);
  if (!session.ok) return refused(session.refusal);
  const secure = bySecureWay(request, lens.settings.address);
  return new Response(null, { status: 204, headers: { "set-cookie": sessionCookie(session.value, secure) } });
});
