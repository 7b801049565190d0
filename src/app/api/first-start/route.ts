import { beginInstallation } from "@/server/access/first-start";
import { serve } from "@/server/app/serve";
import { arrivalAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/first-start", async (asked) =>
  arrivalAnswer(asked, await beginInstallation(asked.app, asked.body, whenceOf(asked))),
);
