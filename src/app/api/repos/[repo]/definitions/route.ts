import { askedBlob } from "@/server/app/http/asked";
import { readyJson } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";

export const GET = serve("GET /api/repos/{repo}/definitions", async (asked) => {
  const blob = await askedBlob(asked, asked.query);
  return blob.ok ? readyJson(await asked.app.workers.definitions(blob.value), true) : blob;
});
