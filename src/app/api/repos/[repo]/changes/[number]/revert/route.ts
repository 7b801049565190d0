import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { takeBack } from "@/server/changes/revisions/reverting";

export const POST = serve("POST /api/repos/{repo}/changes/{number}/revert", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { change, folder, role, repository } = found.value;
  const opened = await takeBack(asked.app, asked.person, role, repository.name, change, folder);
  return opened.ok ? done({ number: opened.value.number }) : opened;
});
