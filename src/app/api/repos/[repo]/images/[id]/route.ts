import { imageAnswer } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { keptImage } from "@/server/changes/images";

export const GET = serve("GET /api/repos/{repo}/images/{id}", async ({ parts, app, person }) => {
  const found = await keptImage(app, person, parts.repo, parts.id);
  return found.ok ? imageAnswer(found.value) : found;
});
