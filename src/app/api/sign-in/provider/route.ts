import { leaveFor } from "@/server/access/signing-in/provider";
import { addressOf } from "@/server/app/http/http";
import { leavingCookie } from "@/server/app/http/leaving-cookie";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/sign-in/provider", async ({ app, request, query }) => {
  const address = addressOf(request, app.settings.address);
  const leaving = await leaveFor(app, address, query.next);
  if (!leaving.ok) return leaving;
  const cookie = leavingCookie(leaving.value.leaving, address.startsWith("https:"));
  return new Response(null, {
    status: 303,
    headers: { location: leaving.value.to, "set-cookie": cookie, "cache-control": "no-store" },
  });
});
