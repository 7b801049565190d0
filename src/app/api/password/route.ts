import { passwordRequest } from "@/core/access-view";
import { changePassword, sessionCookie } from "@/server/access/sessions";
import { bodyOf, bySecureWay, inBrowser, refused } from "@/server/app/http";

/** A new password of one's own. */
export const POST = inBrowser<Record<string, never>>(async ({ request, lens, person, doer }) => {
  const body = await bodyOf(request, passwordRequest);
  if (!body.ok) return refused(body.refusal);
  const whence = { address: doer.address, agent: request.headers.get("user-agent") ?? "" };
  const session = await changePassword(lens, person, body.value, whence);
  if (!session.ok) return refused(session.refusal);
  const secure = bySecureWay(request, lens.settings.address);
  return new Response(null, { status: 204, headers: { "set-cookie": sessionCookie(session.value, secure) } });
});
