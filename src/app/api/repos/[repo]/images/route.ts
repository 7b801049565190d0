import { answer, bytesOf, refused, signedIn } from "@/server/app/http";
import { keepImage, LARGEST_PICTURE } from "@/server/changes/images";

/** Keeps an image that someone puts into a remark; answers with its address. */
export const POST = signedIn<{ repo: string }>(async ({ request, parts, lens, person }) => {
  const bytes = await bytesOf(request, LARGEST_PICTURE);
  return bytes.ok ? answer(await keepImage(lens, person, parts.repo, bytes.value)) : refused(bytes.refusal);
});
