import { ownPath } from "@/core/plain/own-path";
import { sessionCookie } from "@/server/access/sessions";
import { comeBack } from "@/server/access/signing-in/provider";
import { addressOf } from "@/server/app/http/http";
import { leavingCookie, leavingOf } from "@/server/app/http/leaving-cookie";
import { whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/sign-in/provider/back", async (asked) => {
  const { app, request, url } = asked;
  const address = addressOf(request, app.settings.address);
  const secure = address.startsWith("https:");
  const leaving = leavingOf(request);
  const came = leaving
    ? await comeBack(app, address, url.search, leaving, whenceOf(asked))
    : { not: "failed" as const };
  const headers = new Headers({ "cache-control": "no-store" });
  headers.append("set-cookie", leavingCookie(null, secure));
  if ("not" in came) headers.set("location", `/sign-in?why=${came.not}`);
  else {
    headers.append("set-cookie", sessionCookie(came.session, secure));
    headers.set("location", ownPath(leaving?.next));
  }
  return new Response(null, { status: 303, headers });
});
