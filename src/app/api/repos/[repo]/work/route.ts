import { done, refuse } from "@/core/outcome";
import { atLeast } from "@/core/review/roles";
import { enter } from "@/server/access/repositories";
import { serve } from "@/server/app/serve";
import { addWorkItem, setWorkItemState, trackerOf } from "@/server/changes/tracker";

export const GET = serve("GET /api/repos/{repo}/work", async ({ query, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return entered;
  const tracker = trackerOf(lens, entered.value.repository.id);
  const { items, words } = query;
  return done(
    await (items === undefined ? tracker.find(words.slice(0, 200)) : tracker.named(items.split(",").slice(0, 100))),
  );
});

export const POST = serve("POST /api/repos/{repo}/work", async ({ body, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return entered;
  const { repository, role } = entered.value;
  if (!atLeast(role, "contributor"))
    return refuse("forbidden", "Only contributors and keepers can write work items here.");
  if (body.kind === "state") return setWorkItemState(lens, repository.id, body.item, body.state);
  return addWorkItem(lens, person, repository.id, body);
});
