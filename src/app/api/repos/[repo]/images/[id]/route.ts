import { refused, signedIn } from "@/server/app/http";
import { keptImage } from "@/server/changes/images";

/** An image out of a remark, for those who may see its repository. */
export const GET = signedIn<{ repo: string; id: string }>(async ({ parts, lens, person }) => {
  const found = await keptImage(lens, person, parts.repo, parts.id);
  if (!found.ok) return refused(found.refusal);
  const { type, bytes } = found.value;
  return new Response(Uint8Array.from(bytes), {
    headers: {
      "content-type": type,
      "cache-control": "private, max-age=31536000, immutable",
      "x-content-type-options": "nosniff",
      "content-security-policy": "default-src 'none'; sandbox",
    },
  });
});
