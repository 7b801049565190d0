import { findChange } from "@/server/changes";
import { numberOf, refused, signedIn } from "@/server/http";
import { followReading, pointsOf } from "@/server/reading";

/** How the comparison of a change goes on: one JSON line after the other, until the whole is done. */
export const GET = signedIn<{ repo: string; number: string }>(async ({ request, url, parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  const points = await pointsOf(
    change,
    folder,
    url.searchParams.get("from") ?? "base",
    url.searchParams.get("to") ?? "",
  );
  if (!points.ok) return refused(points.refusal);
  const stop = new AbortController();
  request.signal.addEventListener("abort", () => stop.abort());
  const lines = followReading(lens, folder, points.value, stop.signal);
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await lines.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
    },
    cancel: () => stop.abort(),
  });
  return new Response(body, { headers: { "content-type": "application/x-ndjson", "cache-control": "no-store" } });
});
