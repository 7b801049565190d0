import { done } from "@/core/plain/outcome";
import { serve } from "@/server/app/serve";
import { accounts, addAccount } from "@/server/keeping/accounts";

/** Nobody knows a machine's password, so nobody signs in as one. */
export const POST = serve("POST /api/keeping/people", async ({ body, app, doer }) => {
  const { password, owner, ...person } = body;
  const added = await addAccount(app, doer, {
    ...person,
    ...(owner ? { owner } : {}),
    password: person.machine ? app.newId() + app.newId() : (password ?? ""),
  });
  return added.ok ? done(await accounts(app)) : added;
});
