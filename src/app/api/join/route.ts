import { join } from "@/server/access/invites";
import { serve } from "@/server/app/serve";
import { arrivalAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/join", async (asked) =>
  arrivalAnswer(asked, await join(asked.app, asked.body, whenceOf(asked))),
);
