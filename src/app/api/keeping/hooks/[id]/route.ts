import { serve } from "@/server/app/serve";
import { dropHook } from "@/server/hooks/hooks";

export const DELETE = serve("DELETE /api/keeping/hooks/{id}", ({ app, person, doer, parts }) =>
  dropHook(app, person, doer, null, parts.id),
);
