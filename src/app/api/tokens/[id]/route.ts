import { dropToken } from "@/server/access/tokens";
import { serve } from "@/server/app/serve";

export const DELETE = serve("DELETE /api/tokens/{id}", ({ parts, app, person, doer }) =>
  dropToken(app, person, parts.id, doer),
);
