import { askedChange, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { findingsOf } from "@/server/checks/checking";

/** What the checks of the newest revision found. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  return Response.json(await findingsOf(asked.lens, found.value.change));
});
