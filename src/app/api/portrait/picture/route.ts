import { dropPicture, keepPicture, LARGEST_PORTRAIT } from "@/server/access/portraits";
import { bytesOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";

export const POST = serve("POST /api/portrait/picture", async ({ request, app, person }) => {
  const bytes = await bytesOf(request, LARGEST_PORTRAIT);
  return bytes.ok ? keepPicture(app, person, bytes.value) : bytes;
});

export const DELETE = serve("DELETE /api/portrait/picture", ({ app, person }) => dropPicture(app, person));
