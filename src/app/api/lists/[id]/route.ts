import { serve } from "@/server/app/serve";
import { dropList } from "@/server/house/lists/kept-lists";

export const DELETE = serve("DELETE /api/lists/{id}", ({ app, person, parts }) => dropList(app, person, parts.id));
