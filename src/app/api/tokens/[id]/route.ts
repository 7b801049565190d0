import { dropToken } from "@/server/access/tokens";
import { serve } from "@/server/app/serve";

export const DELETE = serve("DELETE /api/tokens/{id}", ({ parts, lens, person, doer }) =>
  dropToken(lens, person, parts.id, doer),
);
