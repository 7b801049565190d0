import { askedChange, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { sizesOf } from "@/server/reading/sizes";

/** How much each revision changed as compared with the one before, by their order. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  return Response.json(await sizesOf(asked.lens, found.value.change, found.value.folder));
});
