import { workItemRequest } from "@/core/keeping-view";
import { atLeast } from "@/core/review/roles";
import { enter } from "@/server/access/repositories";
import { answer, bodyOf, refused, signedIn } from "@/server/app/http";
import { addWorkItem, setWorkItemState, trackerOf } from "@/server/changes/tracker";

/** Work items that fit some words; or, with `items`, those of these names. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const tracker = trackerOf(lens, entered.value.repository.id);
  const named = url.searchParams.get("items");
  const words = (url.searchParams.get("words") ?? "").slice(0, 200);
  return Response.json(
    named === null ? await tracker.find(words) : await tracker.named(named.split(",").slice(0, 100)),
  );
});

/** Writes a work item, ends one, or opens it again. */
export const POST = signedIn<{ repo: string }>(async ({ request, parts, lens, person }) => {
  const body = await bodyOf(request, workItemRequest);
  if (!body.ok) return refused(body.refusal);
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const { repository, role } = entered.value;
  if (!atLeast(role, "contributor"))
    return refused({ code: "forbidden", reason: "Only contributors and keepers can write work items here." });
  if (body.value.kind === "state")
    return answer(await setWorkItemState(lens, repository.id, body.value.item, body.value.state));
  return answer(await addWorkItem(lens, person, repository.id, body.value));
});
