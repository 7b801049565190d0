import { isObjectId } from "@/core/diff/tree";
import { refuse } from "@/core/outcome";
import { enter } from "@/server/access/repositories";
import { refused, signedIn } from "@/server/app/http";
import { imageOf } from "@/server/reading/reading";
import { mayServe } from "@/server/reading/shown";

/** An image of a repository. Its type comes from its bytes, and nothing in it may run. */
export const GET = signedIn<{ repo: string }>(async ({ url, parts, lens, person }) => {
  const entered = await enter(lens, person, parts.repo);
  if (!entered.ok) return refused(entered.refusal);
  const id = url.searchParams.get("id") ?? "";
  if (!isObjectId(id))
    return refused(refuse("missing", "There is no such image: name it by the id of its object.").refusal);
  const may = await mayServe(lens, entered.value.folder, [id]);
  if (!may.ok) return refused(may.refusal);
  const image = await imageOf(entered.value.folder, id);
  if (!image.ok) return refused(image.refusal);
  const headers = {
    "content-type": image.value.type,
    "content-security-policy": "default-src 'none'; sandbox",
    "x-content-type-options": "nosniff",
    "cache-control": "private, max-age=31536000, immutable",
  };
  return new Response(new Uint8Array(image.value.bytes), { headers });
});
