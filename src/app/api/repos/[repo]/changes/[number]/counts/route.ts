import { askedReading } from "@/server/app/http/asked";
import { serve } from "@/server/app/serve";
import { followReading } from "@/server/reading/reading";

export const GET = serve("GET /api/repos/{repo}/changes/{number}/counts", async (asked) => {
  const reading = await askedReading(asked);
  if (!reading.ok) return reading;
  const { folder, points } = reading.value;
  const stop = new AbortController();
  asked.request.signal.addEventListener("abort", () => stop.abort());
  const lines = followReading(asked.app, folder, points, stop.signal);
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
