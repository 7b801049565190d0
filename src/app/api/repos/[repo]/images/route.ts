import { bytesOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { keepImage, LARGEST_PICTURE } from "@/server/changes/images";

export const POST = serve("POST /api/repos/{repo}/images", async ({ request, parts, app, person }) => {
  const bytes = await bytesOf(request, LARGEST_PICTURE);
  return bytes.ok ? keepImage(app, person, parts.repo, bytes.value) : bytes;
});
