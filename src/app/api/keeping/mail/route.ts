import { serve } from "@/server/app/serve";
import { tryMail } from "@/server/news/mail-trial";

export const POST = serve("POST /api/keeping/mail", ({ app, person, doer }) => tryMail(app, person, doer));
