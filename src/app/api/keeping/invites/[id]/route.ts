import { dropInvite } from "@/server/access/invites";
import { serve } from "@/server/app/serve";

export const DELETE = serve("DELETE /api/keeping/invites/{id}", ({ parts, app, doer }) =>
  dropInvite(app, doer, parts.id),
);
