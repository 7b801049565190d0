import { refused, signedIn } from "@/server/http";
import { imageOf } from "@/server/reading";
import { enter } from "@/server/repositories";

/** An image of a repository. Its type comes from its bytes, and nothing in it may run. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const image = await imageOf(entered.value.folder, url.searchParams.get("id") ?? "");
  if (!image.ok) return refused(image.refusal);
  const headers = {
    "content-type": image.value.type,
    "content-security-policy": "default-src 'none'; sandbox",
    "x-content-type-options": "nosniff",
    "cache-control": "private, max-age=31536000, immutable",
  };
  return new Response(new Uint8Array(image.value.bytes), { headers });
});
