import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { dropUnsent, keepUnsent } from "@/server/changes/unsent";

export const PUT = serve("PUT /api/repos/{repo}/changes/{number}/unsent/{id}", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder } = found.value;
  return keepUnsent(asked.app, asked.person, change, folder, asked.parts.id, asked.body);
});

export const DELETE = serve("DELETE /api/repos/{repo}/changes/{number}/unsent/{id}", async (asked) => {
  const found = await askedChange(asked);
  return found.ok ? dropUnsent(asked.app, asked.person, found.value.change, asked.parts.id) : found;
});
