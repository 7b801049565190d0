import { audit } from "@/server/access/audit";
import { endSession, sessionCookie } from "@/server/access/sessions";
import { bySecureWay, cookieOf, signedIn } from "@/server/app/http";

export const POST = signedIn(async ({ request, lens, doer, person }) => {
  await endSession(lens, cookieOf(request) ?? "");
  await audit(lens, doer, "signed-out", { name: person.name });
  const secure = bySecureWay(request, lens.settings.address);
  return new Response(null, { status: 204, headers: { "set-cookie": sessionCookie(null, secure) } });
});
