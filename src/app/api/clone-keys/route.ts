import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { addCloneKey, cloneKeysOf } from "@/server/ledger/clone-keys";

export const GET = serve("GET /api/clone-keys", async ({ app, person }) => done(await cloneKeysOf(app, person)));

export const POST = serve("POST /api/clone-keys", ({ body, app, person, doer }) =>
  addCloneKey(app, person, body, doer),
);
