import { done } from "@/core/plain/outcome";
import { askedChange } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { setFollowing } from "@/server/news/following";

export const PUT = serve("PUT /api/repos/{repo}/changes/{number}/follow", async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return found;
  await setFollowing(asked.app, asked.person, found.value.change, asked.body.follow);
  return done(null);
});
