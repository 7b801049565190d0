import { MERGE_KINDS, type MergeKind } from "@/core/rules/rule";
import { inPersonsTurn } from "@/server/access/allowances";
import { askedChange, type ChangeParts } from "@/server/app/asked";
import { refused, signedIn } from "@/server/app/http";
import { previewMerge } from "@/server/merging/merge-preview";

/** What merging would make, in the way that `how` names. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const how = asked.url.searchParams.get("how") ?? "merge";
  if (!MERGE_KINDS.includes(how as MergeKind))
    return refused({ code: "invalid", reason: `There is no way of merging “${how}”.` });
  const { change, folder } = found.value;
  const { lens, person, request } = asked;
  const preview = await inPersonsTurn(lens, person, request.signal, () =>
    previewMerge(lens, person, change, folder, how as MergeKind),
  );
  return preview.ok ? Response.json(preview.value) : refused(preview.refusal);
});
