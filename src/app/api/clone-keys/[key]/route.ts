import { serve } from "@/server/app/serve";
import { revokeCloneKey } from "@/server/ledger/clone-keys";

export const DELETE = serve("DELETE /api/clone-keys/{key}", ({ parts, app, person, doer }) =>
  revokeCloneKey(app, person, parts.key, doer),
);
