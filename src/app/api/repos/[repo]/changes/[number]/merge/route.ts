import { inPersonsTurn } from "@/server/access/allowances";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { previewMerge } from "@/server/merging/merge-preview";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/merge", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const { app, person, request, query } = asked;
  return inPersonsTurn(app, person, request.signal, () => previewMerge(app, person, change, folder, query));
});
