import { takeReport } from "@/server/checking";
import { bytesOf, refused, signedIn } from "@/server/http";
import { LARGEST_REPORT } from "@/server/report-reader";

/** What a check found on a commit: JUnit XML or SARIF as the body. The name of the check is the last part of the address. */
export const POST = signedIn<{ repo: string; commit: string; name: string }>(
  async ({ request, parts, lens, person }) => {
    const bytes = await bytesOf(request, LARGEST_REPORT);
    if (!bytes.ok) return refused(bytes.refusal);
    const told = await takeReport(lens, person, parts.repo, parts.commit, parts.name, bytes.value);
    return told.ok ? Response.json({ changes: told.value.map(({ number }) => number) }) : refused(told.refusal);
  },
);
