import { findChange } from "@/server/changes";
import { numberOf, refused, signedIn } from "@/server/http";
import { countAll, filesBetween, pointsOf, readingFor } from "@/server/reading";

/** The counts of the files of a reading: one JSON line after the other, as they become known. */
export const GET = signedIn<{ repo: string; number: string }>(async ({ request, url, parts, lens, person }) => {
  const found = await findChange(lens, person, parts.repo, numberOf(parts.number));
  if (!found.ok) return refused(found.refusal);
  const { change, folder } = found.value;
  const points = pointsOf(change, url.searchParams.get("from") ?? "base", url.searchParams.get("to") ?? "");
  if (!points.ok) return refused(points.refusal);
  const files = await readingFor(lens, person, change, await filesBetween(folder, points.value));
  const stop = new AbortController();
  request.signal.addEventListener("abort", () => stop.abort());
  const lines = countAll(lens, folder, files, stop.signal);
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
