import { accountRequest } from "@/core/access-view";
import { answer, bodyOf, forAdministrators, refused } from "@/server/app/http";
import { accounts, changeAccount } from "@/server/keeping/accounts";

/** Carries out what is asked of an account; answers with everyone. */
export const POST = forAdministrators<{ name: string }>(async ({ request, parts, lens, doer }) => {
  const body = await bodyOf(request, accountRequest);
  if (!body.ok) return refused(body.refusal);
  const changed = await changeAccount(lens, doer, parts.name, body.value);
  return changed.ok ? answer({ ok: true, value: await accounts(lens) }) : refused(changed.refusal);
});
