import { askedChange, type ChangeParts } from "@/server/asked";
import { refused, signedIn } from "@/server/http";
import { newsOf } from "@/server/live";

/** What happens to a change set while its page is open. */
export const GET = signedIn<ChangeParts>(async (asked) => {
  const found = await askedChange(asked);
  if (!found.ok) return refused(found.refusal);
  return new Response(newsOf(asked.lens, found.value.change.id, asked.request.signal), {
    headers: { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" },
  });
});
