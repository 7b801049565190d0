import { askedChange, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { progressOf } from "@/server/reading/reading";

/** How far each person has come with the newest revision, by their ids. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  return Response.json(await progressOf(asked.lens, found.value.change, found.value.folder));
});
