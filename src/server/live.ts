import type { EventKind } from "@/core/review/events";
import { eventsAfter, lastEvent } from "@/store/log";
import type { Lens } from "./lens";

/** That something happened to a change set; what it is, who asks may read. */
export interface News {
  kind: EventKind;
  by: string;
}

const EVERY = 1_000;
const STILL_THERE = 25_000;

/** What happens to one change set from now on, as server-sent events; ends when `signal` says so. */
export function newsOf(lens: Lens, change: string, signal: AbortSignal): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let timer: NodeJS.Timeout | undefined;
  const stop = () => clearInterval(timer);
  return new ReadableStream({
    async start(controller) {
      let position = await lastEvent(lens.db);
      let quiet = 0;
      let busy = false;
      const look = async () => {
        if (busy) return;
        busy = true;
        try {
          const events = await eventsAfter(lens.db, position, 500);
          position = events.at(-1)?.position ?? position;
          quiet += EVERY;
          for (const { event } of events) {
            if (event.stream !== change) continue;
            const news: News = { kind: event.kind, by: event.by };
            controller.enqueue(encoder.encode(`data: ${JSON.stringify(news)}\n\n`));
            quiet = 0;
          }
          // A word now and then keeps what stands between from hanging up.
          if (quiet >= STILL_THERE) {
            controller.enqueue(encoder.encode(": still there\n\n"));
            quiet = 0;
          }
        } catch (error) {
          stop();
          lens.log.warn({ err: error }, "news could not be told");
          controller.error(error);
        } finally {
          busy = false;
        }
      };
      signal.addEventListener("abort", () => {
        stop();
        try {
          controller.close();
        } catch {
          // The reader has closed it already.
        }
      });
      controller.enqueue(encoder.encode(": hello\n\n"));
      timer = setInterval(() => void look(), EVERY);
    },
    cancel: stop,
  });
}
