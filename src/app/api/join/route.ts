import { join } from "@/server/access/invites";
import { arrivalAnswer, whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/join", async (asked) =>
  arrivalAnswer(asked, await join(asked.app, asked.body, whenceOf(asked))),
);
