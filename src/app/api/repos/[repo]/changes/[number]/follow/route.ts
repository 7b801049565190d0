import { followRequest } from "@/core/api";
import { askedChange, type ChangeParts } from "@/server/app/asked";
import { bodyOf, refused, signedIn } from "@/server/app/http";
import { setFollowing } from "@/server/news/following";

/** Turns mail about a change set off or on, for who asks. */
export const PUT = signedIn<ChangeParts>(async (asked) => {
  const body = await bodyOf(asked.request, followRequest);
  if (!body.ok) return refused(body.refusal);
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  await setFollowing(asked.lens, asked.person, found.value.change, body.value.follow);
  return new Response(null, { status: 204 });
});
