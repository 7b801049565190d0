import { audit } from "@/server/access/audit";
import { COOKIE, endSession } from "@/server/access/sessions";
import { cookieOf } from "@/server/app/http/http";
import { sessionAnswer } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/sign-out", async (asked) => {
  const { request, app, doer, person } = asked;
  await endSession(app, cookieOf(request, COOKIE) ?? "");
  await audit(app, doer, "signed-out", { name: person.name });
  return sessionAnswer(asked, null);
});
