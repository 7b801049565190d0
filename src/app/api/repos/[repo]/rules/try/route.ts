import { rulesRequest } from "@/core/keeping-view";
import { inPersonsTurn } from "@/server/access/allowances";
import { answer, bodyOf, refused, signedIn } from "@/server/app/http";
import { tryRules } from "@/server/rules/rule-trial";

/** What rules that are not saved would mean for the change sets that are there. */
export const POST = signedIn<{ repo: string }>(async ({ request, parts, lens, person }) => {
  const body = await bodyOf(request, rulesRequest);
  if (!body.ok) return refused(body.refusal);
  return answer(
    await inPersonsTurn(lens, person, request.signal, () => tryRules(lens, person, parts.repo, body.value.rules)),
  );
});
