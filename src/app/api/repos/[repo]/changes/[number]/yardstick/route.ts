import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { dropSame, yardstickOf } from "@/server/changes/yardstick";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/yardstick", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  return yardstickOf(asked.app, folder, change, asked.query.name ?? null);
});

export const POST = serve("POST /api/repos/{repo}/changes/{number}/yardstick", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const dropped = await dropSame(asked.app, asked.person, change, folder, asked.body.name);
  return dropped.ok ? done({ revision: dropped.value.revisions.length }) : dropped;
});
