import { bytesOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { heard } from "@/server/ledger/neighbours";

const LARGEST = 1024 * 1024;

export const POST = serve("POST /api/repos/{repo}/neighbours/{name}/told", async ({ app, parts, request }) => {
  const bytes = await bytesOf(request, LARGEST);
  if (!bytes.ok) return bytes;
  const headers = Object.fromEntries(request.headers);
  return heard(app, parts.repo, parts.name, new TextDecoder().decode(bytes.value), headers);
});
