import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { removeSource } from "@/server/refs/tidy";

export const DELETE = serve("DELETE /api/repos/{repo}/changes/{number}/source", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? removeSource(asked.app, asked.person, found.value.change, found.value.folder) : found;
});
