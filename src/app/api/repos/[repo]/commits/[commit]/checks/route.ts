import { bodyOf, refused, signedIn } from "@/server/app/http";
import { checkRequest, mayReport, report } from "@/server/checks/checking";

/** What a machine says of a check on a commit. */
export const POST = signedIn<{ repo: string; commit: string }>(async ({ request, parts, lens, person }) => {
  const may = await mayReport(lens, person, parts.repo, parts.commit);
  if (!may.ok) return refused(may.refusal);
  const body = await bodyOf(request, checkRequest);
  if (!body.ok) return refused(body.refusal);
  const told = await report(lens, person, parts.repo, parts.commit, body.value);
  return told.ok ? Response.json({ changes: told.value.map(({ number }) => number) }) : refused(told.refusal);
});
