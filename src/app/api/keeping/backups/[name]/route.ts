import { serve } from "@/server/app/serve";
import { dropBackup } from "@/server/keeping/kept-backups";

export const DELETE = serve("DELETE /api/keeping/backups/{name}", ({ app, doer, parts }) =>
  dropBackup(app, doer, parts.name),
);
