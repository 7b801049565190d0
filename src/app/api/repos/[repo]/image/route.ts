import { isObjectId } from "@/core/diff/tree";
import { refuse } from "@/core/plain/outcome";
import { enter } from "@/server/access/repositories";
import { imageAnswer } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { imageOf } from "@/server/reading/reading";
import { mayServe } from "@/server/reading/shown";

export const GET = serve("GET /api/repos/{repo}/image", async ({ query, parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const { folder } = entered.value;
  if (!isObjectId(query.id)) return refuse("missing", "There is no such image: name it by the id of its object.");
  const may = await mayServe(app, folder, [query.id]);
  if (!may.ok) return may;
  const image = await imageOf(folder, query.id);
  return image.ok ? imageAnswer(image.value) : image;
});
