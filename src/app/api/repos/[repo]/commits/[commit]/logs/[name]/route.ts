import { enter } from "@/server/access/repositories";
import { bytesOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { takeLog } from "@/server/checks/logs";

const LARGEST = 1_000_000;

export const PUT = serve("PUT /api/repos/{repo}/commits/{commit}/logs/{name}", async (asked) => {
  const { request, app, person, parts, query } = asked;
  // Who may not tell it is not listened to for a megabyte.
  const entered = await enter(app, person, parts.repo, "contributor");
  if (!entered.ok) return entered;
  const bytes = await bytesOf(request, LARGEST);
  if (!bytes.ok) return bytes;
  const text = new TextDecoder().decode(bytes.value);
  const part = query.part === undefined ? null : query.part / 100;
  return takeLog(app, person, parts.repo, parts.commit, parts.name, { text, part });
});
