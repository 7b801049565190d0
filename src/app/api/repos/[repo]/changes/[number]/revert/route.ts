import { askedChange, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { takeBack } from "@/server/changes/reverting";

/** Offers a change set that takes a merged one back. */
export const POST = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const { change, folder, role, repository } = found.value;
  const opened = await takeBack(asked.lens, asked.person, role, repository.name, change, folder);
  if (!opened.ok) return refused(opened.refusal);
  return Response.json({ number: opened.value.number }, { status: 201 });
});
