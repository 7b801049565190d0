import { enter } from "@/server/access/repositories";
import { serve } from "@/server/app/serve";
import { rulesOf, saveRules } from "@/server/rules/rules";

export const GET = serve("GET /api/repos/{repo}/rules", async ({ parts, app, person }) => {
  const entered = await enter(app, person, parts.repo);
  if (!entered.ok) return entered;
  const { id, name } = entered.value.repository;
  return new Response(`${JSON.stringify(await rulesOf(app.db, id), null, 2)}\n`, {
    headers: {
      "content-type": "application/json",
      "content-disposition": `attachment; filename="${name}-rules.json"`,
      "cache-control": "no-store",
    },
  });
});

export const PUT = serve("PUT /api/repos/{repo}/rules", ({ body, parts, app, person, doer }) =>
  saveRules(app, person, parts.repo, body.rules, body.note, body.version, doer),
);
