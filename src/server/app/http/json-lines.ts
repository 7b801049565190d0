import type { Outcome, Refusal } from "@/core/plain/outcome";

/**
 * Answers with lines of JSON as they come; what the work gives is the last one. What is refused before the first line is a plain refusal; after it, the
 * last line is `{ refusal }`, and what goes wrong unforeseen breaks the answer off.
 */
export async function jsonLines<T>(
  work: (say: (line: T) => void) => Promise<Outcome<T>>,
): Promise<Response | Outcome<never>> {
  const encoder = new TextEncoder();
  const waiting: Uint8Array[] = [];
  let into: ReadableStreamDefaultController<Uint8Array> | null = null;
  let begin = () => {};
  const begun = new Promise<void>((resolve) => {
    begin = resolve;
  });
  const write = (line: T | { refusal: Refusal }) => {
    const bytes = encoder.encode(`${JSON.stringify(line)}\n`);
    if (into) into.enqueue(bytes);
    else waiting.push(bytes);
    begin();
  };
  const ended = work(write);
  const first = await Promise.race([begun.then(() => null), ended]);
  if (first && !first.ok && waiting.length === 0) return first;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      for (const bytes of waiting) controller.enqueue(bytes);
      into = controller;
      ended
        .then((outcome) => {
          write(outcome.ok ? outcome.value : { refusal: outcome.refusal });
          controller.close();
        })
        .catch((error) => controller.error(error));
    },
    // Nobody listens any more; the work is told so by the signal of the request.
    cancel: () => {
      into = null;
    },
  });
  return new Response(body, { headers: { "content-type": "application/x-ndjson", "cache-control": "no-store" } });
}
