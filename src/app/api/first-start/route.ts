import { beginInstallation } from "@/server/access/first-start";
import { arrivalAnswer, whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/first-start", async (asked) =>
  arrivalAnswer(asked, await beginInstallation(asked.app, asked.body, whenceOf(asked))),
);
