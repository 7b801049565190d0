import { serve } from "@/server/app/serve";
import { deliveriesOf, sendAgain } from "@/server/hooks/hooks";

export const GET = serve("GET /api/repos/{repo}/hooks/{id}/deliveries", ({ app, person, parts }) =>
  deliveriesOf(app, person, parts.repo, parts.id),
);

export const POST = serve("POST /api/repos/{repo}/hooks/{id}/deliveries", ({ app, person, parts, body }) =>
  sendAgain(app, person, parts.repo, parts.id, body.delivery),
);
