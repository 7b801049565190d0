import { bytesOf, refused, signedIn } from "@/server/app/http";
import { mayReport, takeReport } from "@/server/checks/checking";
import { LARGEST_REPORT } from "@/server/checks/report-reader";

/** What a check found on a commit: JUnit XML or SARIF as the body. The name of the check is the last part of the address. */
export const POST = signedIn<{ repo: string; commit: string; name: string }>(
  async ({ request, parts, lens, person }) => {
    const may = await mayReport(lens, person, parts.repo, parts.commit);
    if (!may.ok) return refused(may.refusal);
    const bytes = await bytesOf(request, LARGEST_REPORT);
    if (!bytes.ok) return refused(bytes.refusal);
    const { folder } = may.value;
    const { repo, commit, name } = parts;
    const told = await takeReport(lens, person, repo, commit, name, folder, bytes.value, request.signal);
    return told.ok ? Response.json({ changes: told.value.map(({ number }) => number) }) : refused(told.refusal);
  },
);
