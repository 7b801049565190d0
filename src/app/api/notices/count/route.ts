import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { countUnread } from "@/server/news/notices";

export const GET = serve("GET /api/notices/count", async ({ app, person }) =>
  done({ unread: await countUnread(app, person) }),
);
