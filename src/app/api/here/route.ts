import { comeIn } from "@/server/access/here-word";
import { arrivalAnswer, whenceOf } from "@/server/app/http/session-answer";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/here", async (asked) =>
  arrivalAnswer(asked, await comeIn(asked.app, asked.body.word, whenceOf(asked))),
);
