import { refuse } from "@/core/plain/outcome";
import { atLeast } from "@/core/review/roles";
import { enter } from "@/server/access/repositories";
import { serve } from "@/server/app/serve";
import { trackerOf } from "@/server/work/tracker-of";

export const GET = serve("GET /api/repos/{repo}/work", async ({ query, parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const tracker = trackerOf(app, entered.value.repository);
  const { items, words } = query;
  return items === undefined ? tracker.find(words.slice(0, 200)) : tracker.named(items.split(",").slice(0, 100));
});

export const POST = serve("POST /api/repos/{repo}/work", async ({ body, parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const { repository, role } = entered.value;
  if (!atLeast(role, "contributor"))
    return refuse("forbidden", "Only contributors and keepers can write work items here.");
  const tracker = trackerOf(app, repository);
  return body.kind === "state" ? tracker.setState(person, body.item, body.state) : tracker.add(person, body);
});
