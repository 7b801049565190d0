import { openRequest } from "@/core/api";
import { bodyOf, refused, signedIn } from "@/server/app/http";
import { openChange } from "@/server/changes/changes";

/** Opens a change set. */
export const POST = signedIn<{ repo: string }>(async ({ request, parts, lens, person }) => {
  const body = await bodyOf(request, openRequest);
  if (!body.ok) return refused(body.refusal);
  const opened = await openChange(lens, person, parts.repo, body.value);
  if (!opened.ok) return refused(opened.refusal);
  return Response.json({ number: opened.value.number }, { status: 201 });
});
