import { audit } from "@/server/access/audit";
import { COOKIE, endSession } from "@/server/access/sessions";
import { cookieOf } from "@/server/app/http";
import { serve } from "@/server/app/serve";
import { sessionAnswer } from "@/server/app/session-answer";

export const POST = serve("POST /api/sign-out", async (asked) => {
  const { request, lens, doer, person } = asked;
  await endSession(lens, cookieOf(request, COOKIE) ?? "");
  await audit(lens, doer, "signed-out", { name: person.name });
  return sessionAnswer(asked, null);
});
