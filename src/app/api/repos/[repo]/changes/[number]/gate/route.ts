import { gatePreviewRequest } from "@/core/api";
import { askedChange, type ChangeParts } from "@/server/app/asked";
import { answer, checked, refused, signedIn } from "@/server/app/http";
import { gateAfter } from "@/server/changes/gate-after";

/** How the gate would stand if one sent what one has not sent, with a verdict. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  const request = checked(gatePreviewRequest, Object.fromEntries(asked.url.searchParams));
  if (!request.ok) return refused(request.refusal);
  const { lens, person } = asked;
  return answer({ ok: true, value: await gateAfter(lens, person, found.value.change, request.value.verdict) });
});
