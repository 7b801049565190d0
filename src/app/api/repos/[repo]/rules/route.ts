import { rulesRequest } from "@/core/keeping-view";
import { enter } from "@/server/access/repositories";
import { answer, bodyOf, refused, signedIn } from "@/server/app/http";
import { editionsOf, rulesOf, saveRules } from "@/server/rules/rules";

/** The rules as a file: see docs/rules.schema.json. With `history`, every edition of them. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const { id, name } = entered.value.repository;
  if (url.searchParams.has("history")) return Response.json(await editionsOf(lens.db, id));
  return new Response(`${JSON.stringify(await rulesOf(lens.db, id), null, 2)}\n`, {
    headers: {
      "content-type": "application/json",
      "content-disposition": `attachment; filename="${name}-rules.json"`,
      "cache-control": "no-store",
    },
  });
});

/** Saves a new edition of the rules. */
export const PUT = signedIn<{ repo: string }>(async ({ request, parts, lens, person, doer }) => {
  const body = await bodyOf(request, rulesRequest);
  if (!body.ok) return refused(body.refusal);
  const { rules, note, version } = body.value;
  return answer(await saveRules(lens, person, parts.repo, rules, note, version, doer));
});
