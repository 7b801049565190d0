"use client";
import { useRouter } from "next/navigation";
import { useEffect } from "react";
import { addressOf } from "../asking/ask";

/** At most so often the page is asked for anew, in milliseconds, however much happens. */
const AT_MOST_EVERY = 3_000;
/** And at least so often as long as something is being counted. */
const AT_LEAST_EVERY = 60_000;

/**
 * Keeps a page of change sets as they are now: it is asked for anew when something happened to one of them, and as long as something that it
 * says is being counted.
 */
export function LiveDesk({ counting = false }: { counting?: boolean }) {
  const { refresh } = useRouter();
  useEffect(() => {
    if (!counting) return;
    const begun = Date.now();
    let waiting: ReturnType<typeof setTimeout>;
    // What takes long is asked for less and less often: it may be what never can be counted.
    const later = () => {
      const delay = Math.min(AT_LEAST_EVERY, Math.max(AT_MOST_EVERY, (Date.now() - begun) / 2));
      waiting = setTimeout(() => {
        refresh();
        later();
      }, delay);
    };
    later();
    return () => clearTimeout(waiting);
  }, [counting, refresh]);
  useEffect(() => {
    const source = new EventSource(addressOf("GET /api/desk/events"));
    let waiting: ReturnType<typeof setTimeout> | undefined;
    let last = 0;
    const soon = () => {
      waiting ??= setTimeout(
        () => {
          waiting = undefined;
          last = Date.now();
          refresh();
        },
        Math.max(100, last + AT_MOST_EVERY - Date.now()),
      );
    };
    let heard = false;
    // What happened while it was not heard, be it a closed laptop or a server that was away, is looked at then.
    source.onopen = () => {
      if (heard) soon();
      heard = true;
    };
    source.onmessage = soon;
    return () => {
      source.close();
      clearTimeout(waiting);
    };
  }, [refresh]);
  return null;
}
