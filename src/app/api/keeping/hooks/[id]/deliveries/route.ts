import { serve } from "@/server/app/serve";
import { deliveriesOf, sendAgain } from "@/server/hooks/hooks";

export const GET = serve("GET /api/keeping/hooks/{id}/deliveries", ({ app, person, parts }) =>
  deliveriesOf(app, person, null, parts.id),
);

export const POST = serve("POST /api/keeping/hooks/{id}/deliveries", ({ app, person, parts, body }) =>
  sendAgain(app, person, null, parts.id, body.delivery),
);
