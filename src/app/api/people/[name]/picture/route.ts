import { pictureOf } from "@/server/access/portraits";
import { imageAnswer } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/people/{name}/picture", async ({ app, person, parts }) => {
  const found = await pictureOf(app, person, parts.name);
  return found.ok ? imageAnswer(found.value) : found;
});
