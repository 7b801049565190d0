import { askedChange, type ChangeParts } from "@/server/asked";
import { findingsOf } from "@/server/checking";
import { refused, signedIn } from "@/server/http";

/** What the checks of the newest revision found. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  return Response.json(await findingsOf(asked.lens, found.value.change));
});
