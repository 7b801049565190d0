import { done } from "@/core/plain/outcome";
import { invite, invites } from "@/server/access/invites";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/keeping/invites", async ({ app }) => done(await invites(app)));

export const POST = serve("POST /api/keeping/invites", async ({ body, app, doer }) => {
  const word = await invite(app, doer, body);
  return word.ok ? done({ word: word.value, invites: await invites(app) }) : word;
});
