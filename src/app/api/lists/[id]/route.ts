import { done } from "@/core/outcome";
import { serve } from "@/server/app/serve";
import { dropList } from "@/server/lists/kept-lists";

export const DELETE = serve("DELETE /api/lists/{id}", async ({ app, person, parts }) => {
  await dropList(app, person, parts.id);
  return done(null);
});
