import { newAccountRequest } from "@/core/access-view";
import { answer, bodyOf, forAdministrators, refused } from "@/server/app/http";
import { accounts, addAccount } from "@/server/keeping/accounts";

/** Adds someone; answers with everyone. Nobody knows a machine's password, so nobody signs in as one. */
export const POST = forAdministrators<Record<string, never>>(async ({ request, lens, doer }) => {
  const body = await bodyOf(request, newAccountRequest);
  if (!body.ok) return refused(body.refusal);
  const { password, owner, ...person } = body.value;
  const added = await addAccount(lens, doer, {
    ...person,
    ...(owner ? { owner } : {}),
    password: person.machine ? lens.newId() + lens.newId() : (password ?? ""),
  });
  return added.ok ? answer({ ok: true, value: await accounts(lens) }) : refused(added.refusal);
});
