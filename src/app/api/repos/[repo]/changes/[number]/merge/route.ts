import { inPersonsTurn } from "@/server/access/allowances";
import { askedChange } from "@/server/app/asked";
import { serve } from "@/server/app/serve";
import { previewMerge } from "@/server/merging/merge-preview";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/merge", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  const { lens, person, request, query } = asked;
  return inPersonsTurn(lens, person, request.signal, () => previewMerge(lens, person, change, folder, query.how));
});
