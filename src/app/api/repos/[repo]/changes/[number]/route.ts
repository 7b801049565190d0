import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { numberOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { carryOut } from "@/server/changes/requests";
import { changeParts } from "@/server/changes/views";

export const GET = serve("GET /api/repos/{repo}/changes/{number}", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  const { repository, change } = found.value;
  return done(await changeParts(asked.app, asked.person, repository, change, asked.query.have));
});

export const POST = serve("POST /api/repos/{repo}/changes/{number}", async (asked) => {
  const { app, person, parts, body, query } = asked;
  const carried = await carryOut(app, person, parts.repo, numberOf(parts.number), body);
  if (!carried.ok) return carried;
  const found = await askedChange(asked);
  if (!found.ok) return found;
  return done(await changeParts(app, person, found.value.repository, found.value.change, query.have));
});
