import * as v from "valibot";
import { askedChange, type ChangeParts } from "@/server/app/asked";
import { answer, bodyOf, refused, signedIn } from "@/server/app/http";
import { dropSame, yardstickOf } from "@/server/changes/yardstick";

/** How the files of a change set stand to the branch or tag that `name` names; without it, which there are. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  return answer(await yardstickOf(asked.lens, folder, change, asked.url.searchParams.get("name")));
});

const dropRequest = v.object({ name: v.pipe(v.string(), v.maxLength(300)) });

/** Takes the files that are there already out of the change set. */
export const POST = signedIn<ChangeParts>(async (asked) => {
  const body = await bodyOf(asked.request, dropRequest);
  if (!body.ok) return refused(body.refusal);
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  const dropped = await dropSame(asked.lens, asked.person, change, folder, body.value.name);
  return dropped.ok ? Response.json({ revision: dropped.value.revisions.length }) : refused(dropped.refusal);
});
