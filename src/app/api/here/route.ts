import { comeIn } from "@/server/access/here-word";
import { serve } from "@/server/app/serve";
import { arrivalAnswer, whenceOf } from "@/server/app/session-answer";

export const POST = serve("POST /api/here", async (asked) =>
  arrivalAnswer(asked, await comeIn(asked.app, asked.body.word, whenceOf(asked))),
);
