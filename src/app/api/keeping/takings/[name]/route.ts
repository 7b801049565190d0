import { serve } from "@/server/app/serve";
import { endTaking, takeBundle } from "@/server/keeping/takings";

export const POST = serve("POST /api/keeping/takings/{name}", ({ request, parts, app, doer }) =>
  takeBundle(app, doer, parts.name, request.body),
);

export const DELETE = serve("DELETE /api/keeping/takings/{name}", ({ parts, app }) => endTaking(app, parts.name));
