import { auditEntries } from "@/server/access/audit";
import { forAdministrators } from "@/server/app/http";

const MOST = 200;

/** Who did what, the newest first; `before` goes on from an entry. */
export const GET = forAdministrators<Record<string, never>>(async ({ url, lens }) => {
  const before = url.searchParams.get("before")?.slice(0, 40) || undefined;
  return Response.json(await auditEntries(lens, { most: MOST, before }), { headers: { "cache-control": "no-store" } });
});
